import { checkBook } from '../book/checks/check';
import {
  groupsOf,
  itemsOf,
  type Also,
  type BookDocument,
  type Group,
  type Hurdle,
  type Line,
  type Then,
} from '../book/document';
import { Choices, randomBook } from './random-book';

const LINES: Line[] = [
  [[0, 0], [80, 100]],
  [[0, 0], [60, 50], [100, 100]],
  [[0, 100], [100, 0]],
  [[20, 10], [50, 10], [75, 33.3333]],
  [[0, 40], [100, 100]],
]; // prettier-ignore
const THRESHOLDS = [0, 40, 50, 60, 66.6666, 80, 100];

/**
 * A random book with the policies of sections 4 to 8 put into it at random: nodes counted again, variants, hurdles with
 * consequences, counts, banks, figures that are bent before they go on. What would make the book unsound is left away.
 * The same seed gives the same book.
 */
export function randomPolicyBook(seed: number): BookDocument {
  const c = new Choices(seed ^ 0x5eed);
  const plain = randomBook(seed);
  if (itemsOf(plain.tree).length === 0) return plain;
  // No change is of an entry, and entries are nearly all of a book: they are put back when it is made.
  let book: BookDocument = { ...plain, entries: [] };
  for (let k = c.int(3, 14); k > 0; k--) {
    const next = copied(book);
    c.pick(CHANGES)(next, c, k);
    if (checkBook(next).ok) book = next;
  }
  book.entries = copied(plain.entries);
  if (!checkBook(book).ok) throw new Error(`random book ${seed} is not sound with its entries`);
  return book;
}

/** A book is JSON, and much sooner copied so. */
const copied = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

/** Any book that there can be: every other one has policies in it. */
export const anyBook = (seed: number): BookDocument => (seed % 2 === 0 ? randomBook(seed) : randomPolicyBook(seed));

type Change = (book: BookDocument, c: Choices, k: number) => void;

const CHANGES: Change[] = [addAlso, addAlso, addAlso, addAlso, bendGroup, combineOtherwise, limitExtra, addHurdle, addHurdle, addCount, addVariant, addVariant, addBank, addShown]; // prettier-ignore

const groupIn = (book: BookDocument, c: Choices): Group => c.pick(groupsOf(book.tree));
const nodeIn = (book: BookDocument, c: Choices): string =>
  c.pick([...groupsOf(book.tree), ...itemsOf(book.tree), ...alsosIn(book)]).id;
const alsosIn = (book: BookDocument): Also[] =>
  groupsOf(book.tree).flatMap((g) => g.children.filter((n): n is Also => n.type === 'also'));

function addAlso(book: BookDocument, c: Choices, k: number): void {
  const group = groupIn(book, c);
  const also: Also = {
    id: `a${k}`,
    type: 'also',
    of: c.chance(0.6) ? c.pick([...itemsOf(book.tree), ...groupsOf(book.tree)]).id : groupIn(book, c).id,
    ...(c.chance(0.4) ? { weight: c.pick([0, 1, 10, 2.5]) } : {}),
    ...(c.chance(0.3) ? { points: c.pick([10, 5, 33.3]) } : {}),
    ...(c.chance(0.15) ? { extraCredit: true } : {}),
    ...(c.chance(0.1) ? { alwaysKept: true } : {}),
    ...(c.chance(0.35) ? { standsIn: true } : {}),
  };
  if (c.chance(0.45))
    Object.assign(also, c.pick([{ through: c.pick(LINES) }, { from: c.pick(THRESHOLDS) }, { reaching: c.pick(THRESHOLDS) }])); // prettier-ignore
  group.children.splice(c.int(0, group.children.length), 0, also);
}

function bendGroup(book: BookDocument, c: Choices): void {
  const kinds: Then[] = [
    { step: c.pick([1, 5, 0.5, 33.3333]), mode: c.pick(['half-up', 'half-even', 'down'] as const) },
    { through: c.pick(LINES) },
    { steps: c.pick([[[50, 60], [75, 100]], [[0, 10], [60, 55.5]], [[90, 90]]]) as [number, number][] }, // prettier-ignore
  ];
  groupIn(book, c).then = c.pick(kinds);
}

function combineOtherwise(book: BookDocument, c: Choices): void {
  const group = groupIn(book, c);
  delete group.drop;
  delete group.keepBest;
  group.combine = c.pick(['median', 'decaying'] as const);
  if (group.combine === 'decaying') group.newest = c.pick([70, 33.3333, 100]);
}

function limitExtra(book: BookDocument, c: Choices): void {
  const group = groupIn(book, c);
  if (group !== book.tree && c.chance(0.5)) group.extraCredit = true;
  else group.extraAtMost = c.pick([0, 5, 12.5]);
}

function addHurdle(book: BookDocument, c: Choices): void {
  const capAt: Hurdle['capAt'] = c.pick([39, { node: nodeIn(book, c) }, { letter: c.pick(['A', 'B', 'C']) }]);
  const atLeast = c.chance(0.3) ? ('handed-in' as const) : c.pick(THRESHOLDS);
  const node = atLeast === 'handed-in' ? c.pick(itemsOf(book.tree)).id : nodeIn(book, c);
  (book.hurdles ??= []).push({ node, atLeast, ...(c.chance(0.3) ? { letter: c.pick(['I', 'NE']) } : { capAt }) });
}

function addCount(book: BookDocument, c: Choices): void {
  const item = c.pick(itemsOf(book.tree));
  item.counts = false;
  (book.hurdles ??= []).push({
    node: item.id,
    over: c.pick([0, 3, 1.5]),
    each: c.pick([1, 2, 0.3]),
    takes: c.chance(0.6) ? { percent: c.pick([2, 0.3333, 40]) } : { letters: c.int(1, 2) },
    ...(c.chance(0.4) ? { most: c.int(0, 3) } : {}),
  });
}

function addVariant(book: BookDocument, c: Choices, k: number): void {
  const scale = c.chance(0.3) ? { scale: c.pick(['letters', null]) } : {};
  (book.variants ??= {})[`v${k}`] = {
    ...(c.chance(0.7) ? { weights: { [nodeIn(book, c)]: c.pick([0, 5, 40, 0.5]), [nodeIn(book, c)]: 30 } } : {}),
    ...(c.chance(0.6) ? { leftOut: Array.from({ length: c.int(0, 2) }, () => nodeIn(book, c)) } : {}),
    ...scale,
  };
  for (const student of book.students) if (c.chance(0.5)) student.variant = `v${k}`;
}

function addBank(book: BookDocument, c: Choices): void {
  const rule = book.rules!.late![c.pick(['one', 'two'])]!;
  if (rule.unit === undefined) return;
  rule.bank = { units: c.pick([1, 3, 5, 60]), ...(c.chance(0.4) ? { perItem: c.int(0, 3) } : {}) };
}

function addShown(book: BookDocument, c: Choices): void {
  book.shown = {
    through: c.pick(LINES),
    decimals: c.int(1, 3),
    mode: c.pick(['half-up', 'half-even', 'down'] as const),
    ...(c.chance(0.3) ? { step: c.pick([0.5, 0.1, 3]) } : {}),
    label: '/ 20',
  };
}
