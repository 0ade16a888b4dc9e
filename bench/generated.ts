import type { BookDocument, Entry, Group, Item } from '@core/book/document';
import { Random } from '../demo/random';

/**
 * The book that the benches work on: nested categories, late rules on half, two attempts on a fifth, drops in most
 * groups, extra credit, hurdles. The same for the same numbers.
 */
export function generatedBook(students: number, items: number, seed = 7): BookDocument {
  const random = new Random(seed);
  const perGroup = 6;
  const leaves: Group[] = [];
  for (let i = 0; i < items; i += perGroup) {
    const children = Array.from({ length: Math.min(perGroup, items - i) }, (_, k): Item => {
      const n = i + k;
      return {
        id: `i${n}`,
        type: 'item',
        points: [10, 20, 25, 50][n % 4]!,
        // A fifth of the term is still to come, so that every student has something open.
        due: `2026-${n % 5 === 4 ? '12' : n % 2 === 0 ? '09' : '10'}-${String(1 + (n % 28)).padStart(2, '0')}T17:00:00Z`,
        ...(n % 2 === 0 ? { late: 'steady' } : {}),
        ...(n % 17 === 16 ? { extraCredit: true } : {}),
      };
    });
    const at = leaves.length;
    const drop = at % 4 === 3 ? {} : { drop: { lowest: 1 } };
    leaves.push({
      id: `g${at}`,
      type: 'group',
      combine: (['points', 'equal', 'weights'] as const)[at % 3]!,
      weight: 1 + (at % 5),
      ...drop,
      children,
    });
  }
  const categories = Array.from({ length: 4 }, (_, c): Group => {
    const children = leaves.filter((_, i) => i % 4 === c);
    return { id: `c${c}`, type: 'group', combine: 'weights', weight: 25, children, info: { title: `Part ${c + 1}` } };
  }).filter((g) => g.children.length > 0);
  const people = Array.from({ length: students }, (_, s) => ({ id: `s${s}` }));
  const points = new Map(leaves.flatMap((g) => g.children as Item[]).map((i) => [i.id, i.points]));
  const entries: Entry[] = [];
  for (const { id } of people)
    for (let n = 0; n < items; n++) {
      if (random.chance(n % 5 === 4 ? 0.9 : 0.06)) continue;
      const of = points.get(`i${n}`)!;
      const attempt = () => ({
        score: Math.round(of * (0.4 + 0.6 * random.next()) * 4) / 4,
        ...(n % 2 === 0
          ? { receivedAt: `2026-09-${String(1 + Math.floor(random.next() * 29)).padStart(2, '0')}T12:00:00Z` }
          : {}),
      });
      entries.push({ student: id, item: `i${n}`, attempts: random.chance(0.2) ? [attempt(), attempt()] : [attempt()] });
    }
  return {
    format: 'last-tally.book/1',
    timeZone: 'Europe/Dublin',
    asOf: '2026-11-24T09:00:00Z',
    rules: {
      late: { steady: { unit: 'day', deduct: 10, max: 50, graceMinutes: 15 } },
      blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } },
      scales: {
        letters: {
          bands: [
            { label: 'A', from: 85 },
            { label: 'B', from: 70 },
            { label: 'C', from: 55 },
            { label: 'F', from: 0 },
          ],
          lookUp: 'rounded',
        },
      },
    },
    blank: 'usual',
    scale: 'letters',
    // Four decimals, so that every entry that counts changes what is shown.
    rounding: { decimals: 4, mode: 'half-up' },
    tree: { id: 'all', type: 'group', combine: 'weights', children: categories },
    hurdles: [{ node: 'c0', atLeast: 40, capAt: 39 }],
    students: people,
    entries,
  };
}
