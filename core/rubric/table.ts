import Papa from 'papaparse';
import { MOST_CRITERIA, MOST_LEVELS, type Criterion, type Level, type Rubric } from './document';

/** A rubric as it was read from a table, and what was taken for granted. */
export interface ReadRubric {
  rubric: Rubric;
  notes: string[];
}

const OWN_HEAD = ['criterion', 'words', 'stands', 'weight', 'step'];
const STANDS: Record<string, Criterion['stands']> = { '': 'counts', counts: 'counts', bonus: 'bonus', shown: 'shown' };
const NUMBER = String.raw`\d{1,7}(?:[.,]\d{1,4})?`;
const UNIT = String.raw`(?:points?|pts?|p)`;
const WHOLE = new RegExp(`^(${NUMBER})\\s*${UNIT}?\\.?$`, 'i');
/** A mark or a unit is between points and words: "3 horizons named" are words. */
const BEFORE = new RegExp(`^(${NUMBER})\\s*(?:${UNIT}\\b\\s*[-–—:.,)]?|[-–—:)]|\\.\\s)\\s*(\\S.*)$`, 'is');
const AFTER = new RegExp(`^(.*\\S)\\s*[(\\[]\\s*(${NUMBER})\\s*${UNIT}?\\s*[)\\]]$`, 'is');

/**
 * Reads a rubric from a table: comma, semicolon or tab between cells. Either as {@link rubricTable} writes it, or a plain
 * one: a criterion in each row, first its title, then a cell for each level with its words and its points, which may stand
 * in the row of headings, before the words, behind them in brackets, or alone. `newId` makes ids. A sentence: why not.
 */
export function readRubricTable(text: string, newId: () => string): ReadRubric | string {
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').replace(/^[\r\n]+|\s+$/g, ''), {
    delimitersToGuess: ['\t', ',', ';', '|'],
  });
  const rows = parsed.data.map((r) => r.map(plain)).filter((r) => r.some((c) => c !== ''));
  if (rows.length === 0) return 'There is no table in this.';
  if (rows.length > MOST_CRITERIA + 1 || rows.some((r) => r.length > 50))
    return 'This table has more rows or columns than a rubric can have.';
  // The blank cell above the titles is easily lost on the way.
  if (rows[0]!.length === (rows[1]?.length ?? 0) - 1 && rows[0]!.every((c) => amount(c) !== null)) rows[0]!.unshift('');
  const head = rows[0]!.map((c) => c.toLowerCase());
  if (OWN_HEAD.every((h, i) => head[i] === h)) return readOwn(rows, newId);
  return readPlain(rows, newId);
}

/** A cell without what keeps a spreadsheet from taking it for a formula. */
const plain = (cell: string): string => cell.trim().replace(/^'(?=\s*[=+\-@])/, '');
const toNumber = (text: string): number => Number(text.replace(',', '.'));
const amount = (text: string): number | null => {
  const found = WHOLE.exec(text);
  return found ? toNumber(found[1]!) : null;
};

/** Points and words of one cell of a plain table. */
function readLevel(cell: string): { points: number | null; words: string } {
  const alone = amount(cell);
  if (alone !== null) return { points: alone, words: '' };
  const before = BEFORE.exec(cell);
  if (before) return { points: toNumber(before[1]!), words: before[2]! };
  const after = AFTER.exec(cell);
  return after ? { points: toNumber(after[2]!), words: after[1]! } : { points: null, words: cell };
}

function readPlain(rows: string[][], newId: () => string): ReadRubric | string {
  const notes: string[] = [];
  const read = rows.map((r) => ({ title: r[0]!, levels: r.slice(1).map(readLevel) }));
  const [first, ...rest] = read;
  // Headings: points stand in them and not below, or they name the first column.
  const named = /^(criteri|what|aspect|$)/i.test(first!.title);
  const hasPoints = (r: (typeof read)[number]): boolean => r.levels.some((l) => l.points !== null);
  const isHead = rest.length > 0 && (named || (hasPoints(first!) && !rest.some(hasPoints)));
  const body = isHead ? rest : read;
  const heading = (j: number): number | null => (isHead ? (first!.levels[j]?.points ?? null) : null);
  let counted = false;
  const criteria = body.map((r): Criterion => {
    const cells = r.levels.flatMap((l, j) =>
      l.points === null && l.words === '' && heading(j) === null ? [] : [{ ...l, points: heading(j) ?? l.points }],
    );
    if (cells.some((l) => l.points === null)) {
      counted = true;
      cells.forEach((l, j) => (l.points = j + 1));
    }
    return { id: newId(), title: r.title, stands: 'counts', levels: inOrder(cells, newId) };
  });
  if (criteria.every((c) => c.levels.length === 0))
    return 'There are no levels in this table: each stands in a cell of its criterion’s row, with its points.';
  if (counted) notes.push('Levels without points were counted 1, 2, 3 from the left.');
  const long = criteria.find((c) => c.levels.length > MOST_LEVELS);
  if (long)
    return `${long.title} has ${long.levels.length} levels; a criterion has ${MOST_LEVELS} at most: each has a key.`;
  return { rubric: { by: 'points', criteria }, notes };
}

const inOrder = (cells: { points: number | null; words: string }[], newId: () => string): Level[] =>
  cells.map((l) => ({ id: newId(), points: l.points ?? 0, words: l.words })).sort((a, b) => a.points - b.points);

function readOwn([, ...rows]: string[][], newId: () => string): ReadRubric | string {
  const criteria: Criterion[] = [];
  for (const [i, r] of rows.entries()) {
    const [title = '', words = '', stands = '', weight = '', step = '', ...pairs] = r;
    const kind = STANDS[stands.toLowerCase()];
    if (kind === undefined) return `Row ${i + 2}: “${stands}” is none of counts, bonus and shown.`;
    const levels: Level[] = [];
    for (let j = 0; j < pairs.length; j += 2) {
      if (pairs[j] === '' && (pairs[j + 1] ?? '') === '') continue;
      const points = amount(pairs[j]!);
      if (points === null) return `Row ${i + 2}: “${pairs[j]}” are no points.`;
      levels.push({ id: newId(), points, words: pairs[j + 1] ?? '' });
    }
    const [w, s] = [amount(weight), amount(step)];
    if ((weight !== '' && w === null) || (step !== '' && s === null))
      return `Row ${i + 2}: “${weight !== '' && w === null ? weight : step}” is no number.`;
    criteria.push({
      ...{ id: newId(), title, stands: kind, levels },
      ...(words === '' ? {} : { words }),
      ...(w === null ? {} : { weight: w }),
      ...(s === null ? {} : { step: s }),
    });
  }
  const by = criteria.some((c) => c.weight !== undefined) ? 'weights' : 'points';
  return { rubric: { by, criteria }, notes: [] };
}

/** A rubric as a table of text cells that {@link readRubricTable} reads without loss, but for ids and `scaled`. */
export function rubricTable(rubric: Rubric): string[][] {
  const most = Math.max(0, ...rubric.criteria.map((c) => c.levels.length));
  const heads = Array.from({ length: most }, (_, j) => [`Points ${j + 1}`, `Level ${j + 1}`]).flat();
  const text = (n: number | undefined): string => (n === undefined ? '' : String(n));
  return [
    ['Criterion', 'Words', 'Stands', 'Weight', 'Step', ...heads],
    ...rubric.criteria.map((c) => [
      ...[c.title, c.words ?? '', c.stands, rubric.by === 'weights' ? text(c.weight) : '', text(c.step)],
      ...c.levels.flatMap((l) => [String(l.points), l.words]),
    ]),
  ];
}
