import { outOf } from '../../../data/columns';
import { plain } from '../../../ui/text/find-words';
import { FLAG, STATES, type CellColumns, type Standing } from '../../../worker/protocol';
import type { ViewSettings, Only, Sort } from './view-settings';

/** What rows are chosen and ordered by. Students are their numbers in the book. */
export interface Listed {
  students: readonly string[];
  items: readonly string[];
  cells: CellColumns | null;
  standings: readonly Standing[];
  name(s: number): { family: string; given: string; number: string; section: string | null };
  /** Members of the group that is looked at; null: everybody. */
  members: ReadonlySet<string> | null;
  /** Where the band that standings are to be below begins; null: any standing. */
  below: number | null;
  /** By "student item" ('*' for the student as a whole): a note or a flag; something that others changed. */
  noted(student: string, place: string): boolean;
  isNews(student: string, item: string): boolean;
}

/** The students that a look shows, in its order, and how many each of its parts hides. */
export function list(look: ViewSettings, from: Listed): { rows: number[]; hides: { what: string; count: number }[] } {
  const hides: { what: string; count: number }[] = [];
  let rows = from.students.map((_, s) => s);
  const keep = (what: string, is: (s: number) => boolean): void => {
    const left = rows.filter(is);
    if (left.length < rows.length) hides.push({ what, count: rows.length - left.length });
    rows = left;
  };
  if (look.section !== null) keep('section', (s) => from.name(s).section === look.section);
  if (from.members) keep('group', (s) => from.members!.has(from.students[s]!));
  const words = plain(look.find).split(/\s+/).filter(Boolean);
  if (words.length > 0)
    keep('find', (s) => {
      const { family, given, number } = from.name(s);
      const text = plain(`${family}, ${given} ${family} ${number}`);
      return words.every((w) => text.includes(w));
    });
  if (from.below !== null) keep('below', (s) => (from.standings[s]?.at ?? NaN) < from.below!);
  if (look.only !== null && from.cells) {
    const where = look.where === null ? -1 : from.items.indexOf(look.where);
    const hidden = new Set(look.hidden);
    const columns = where >= 0 ? [where] : from.items.flatMap((id, i) => (hidden.has(id) ? [] : [i]));
    keep(
      'only',
      (s) => columns.some((i) => matches(look.only!, from, s, i)) || (where < 0 && wholeNoted(look, from, s)),
    );
  }
  return { rows: ordered(rows, look.sort, from), hides };
}

const wholeNoted = (look: ViewSettings, from: Listed, s: number): boolean =>
  look.only === 'note' && from.noted(from.students[s]!, '*');

/** Whether a cell is of the kind that is looked for. */
export function matches(only: Only, from: Listed, s: number, i: number): boolean {
  const cells = from.cells!;
  const at = s * from.items.length + i;
  const state = STATES[cells.state[at]!]!;
  const flags = cells.flags[at]!;
  const scored = state === 'scored' || state === 'set';
  switch (only) {
    case 'to-mark':
      return state === 'pending' || (flags & FLAG.again) !== 0;
    case 'missing':
      return state === 'missing';
    case 'late':
      return cells.taken[at]! > 0;
    case 'excused':
      return state === 'excused';
    case 'own-date':
      return (flags & FLAG.ownDate) !== 0;
    case 'draft':
      return scored && outOf(flags) === 0;
    case 'since-release':
      return outOf(flags) === 2;
    case 'note':
      return from.noted(from.students[s]!, from.items[i]!);
    case 'news':
      return from.isNews(from.students[s]!, from.items[i]!);
  }
}

function ordered(rows: number[], sort: Sort, from: Listed): number[] {
  const byName = (a: number, b: number): number => a - b;
  const turn = sort.down ? -1 : 1;
  // The book gives students by name; equal ones stay in that order.
  if (sort.by === 'name') return sort.down ? [...rows].reverse() : rows;
  if (sort.by === 'section') {
    const section = (s: number): string => from.name(s).section ?? '';
    return [...rows].sort((a, b) => turn * section(a).localeCompare(section(b)) || byName(a, b));
  }
  const item = from.items.indexOf(sort.by);
  const value = (s: number): number =>
    sort.by === 'standing' ? (from.standings[s]?.at ?? NaN) : (from.cells?.counts[s * from.items.length + item] ?? NaN);
  // Those without a figure come last, whichever way.
  return [...rows].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    if (Number.isNaN(x) || Number.isNaN(y)) return Number(Number.isNaN(x)) - Number(Number.isNaN(y)) || byName(a, b);
    return turn * (x - y) || byName(a, b);
  });
}

/** Each student's place by standing, 1 the highest, equal ones alike; undefined without a standing. */
export function ranks(standings: readonly Standing[]): (number | undefined)[] {
  const sorted = standings
    .map((s) => s.at)
    .filter((x) => !Number.isNaN(x))
    .sort((a, b) => b - a);
  return standings.map((s) => (Number.isNaN(s.at) ? undefined : sorted.indexOf(s.at) + 1));
}
