import type { Also, BookDocument, Group, Item } from '@core/book/document';
import { generatedBook } from './generated';

/**
 * The bench book with policies of every kind in it: one piece counted again in each category, hurdles with consequences,
 * a count, a bank, three variants, figures that are rounded and bent before they go on, another scale.
 */
export function policyBook(students: number, items: number): BookDocument {
  const book = generatedBook(students, items);
  const categories = book.tree.children as Group[];
  const last = (g: Group): Group => g.children.at(-1) as Group;
  const again: Also[] = categories.map((c, i) => ({
    id: `again-${i}`,
    type: 'also',
    of: last(categories[(i + 1) % categories.length]!).id,
    weight: 2,
    ...(i === 1 ? { standsIn: true } : i === 2 ? { through: [[0, 0], [80, 100]] as [number, number][] } : {}), // prettier-ignore
  }));
  const bent: Group[] = categories.map((c, i) => ({
    ...c,
    children: [again[i]!, ...c.children],
    ...(i === 0 ? { then: { step: 0.5, mode: 'half-up' } } : i === 3 ? { then: { through: [[0, 0], [90, 100]] } } : {}), // prettier-ignore
  }));
  const passed: Also = { id: 'passed', type: 'also', of: last(categories[0]!).id, reaching: 60, weight: 0 };
  const absences: Item = { id: 'absences', type: 'item', points: 40, counts: false };
  return {
    ...book,
    rules: { ...book.rules, late: { steady: { ...book.rules!.late!['steady']!, bank: { units: 3, perItem: 2 } } } },
    tree: { ...book.tree, children: [passed, ...bent, absences] },
    hurdles: [
      ...book.hurdles!,
      { node: 'passed', atLeast: 50, capAt: { letter: 'C' } },
      { node: 'c1', atLeast: 30, capAt: { node: 'c1' } },
      { node: 'i0', atLeast: 'handed-in', letter: 'I' },
      { node: 'absences', over: 3, each: 1, takes: { percent: 0.5 }, most: 5 },
    ],
    variants: {
      graduates: { weights: { c0: 40, c1: 10 } },
      evening: { leftOut: [last(categories[2]!).id] },
      plain: { scale: null },
    },
    shown: { through: [[0, 0], [100, 20]], decimals: 2, mode: 'half-up' }, // prettier-ignore
    students: book.students.map((s, i) => (i % 4 === 0 ? s : { ...s, variant: ['', 'graduates', 'evening', 'plain'][i % 4]! })), // prettier-ignore
    entries: [
      ...book.entries,
      ...book.students.map((s, i) => ({ student: s.id, item: 'absences', attempts: [{ score: i % 9 }] })),
    ],
  };
}
