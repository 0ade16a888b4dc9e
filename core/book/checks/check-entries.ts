import { parseMoment } from '../../time/moment';
import { type TreeNames, known } from './check-tree';
import { type Problems } from './problems';
import { boolean, choice, has, isObject, list, moment, number, object, text, type Json } from './shapes';

/** The keys of what an entry holds. */
export const CONTENT = ['state', 'attempts', 'dueAt', 'closesAt', 'lateAllowances', 'set', 'protected'];
const ENTRY = ['student', 'item', ...CONTENT];
const ATTEMPT = ['score', 'mark', 'receivedAt', 'onTime', 'lateUnits'];

/** Pairs of student and item that have been seen: a bit each while that is small, else sets. */
class Pairs {
  private readonly bits: Uint8Array | null;
  private readonly sets = new Map<number, Set<number>>();

  constructor(
    students: number,
    private readonly items: number,
  ) {
    const size = students * items;
    this.bits = size <= 4e8 ? new Uint8Array(Math.ceil(size / 8)) : null;
  }

  /** Notes a pair. False where it was there before. */
  add(student: number, item: number): boolean {
    if (this.bits !== null) {
      const at = student * this.items + item;
      const bit = 1 << (at & 7);
      const byte = Math.floor(at / 8);
      if (this.bits[byte]! & bit) return false;
      this.bits[byte]! |= bit;
      return true;
    }
    let of = this.sets.get(student);
    if (!of) this.sets.set(student, (of = new Set()));
    if (of.has(item)) return false;
    of.add(item);
    return true;
  }
}

/**
 * Section 2: the entries. Almost all are sound, so each is first looked at without a word; only one that is not plainly
 * sound is gone through again, key by key, for its problems.
 */
export function checkEntries(p: Problems, v: unknown, students: ReadonlyMap<string, number>, tree: TreeNames): void {
  if (!list(p, '/entries', v)) return;
  const pairs = new Pairs(students.size, tree.items.size);
  v.forEach((entry: unknown, i) => {
    const item = isObject(entry) ? tree.items.get(entry['item'] as string) : undefined;
    const plain = item !== undefined && has(entry as Json, 'student') && isPlainContent(entry as Json, item.marks);
    if (!plain) checkEntry(p, `/entries/${i}`, entry, students, tree);
    if (item === undefined) return;
    const student = students.get((entry as Json)['student'] as string);
    if (student === undefined) {
      if (plain) known(p, `/entries/${i}/student`, (entry as Json)['student'], students, 'student');
    } else if (!pairs.add(student, item.index))
      p.add(`/entries/${i}`, 'This student has another entry for the same item.');
  });
}

/** True only for an entry in which nothing can be wrong but where it stands. */
export function isPlainContent(entry: Json, marks: ReadonlySet<string> | null): boolean {
  for (const key in entry) {
    const v = entry[key];
    switch (key) {
      case 'item':
      case 'info':
        break;
      case 'student':
        if (typeof v !== 'string') return false;
        break;
      case 'attempts':
        if (!Array.isArray(v)) return false;
        for (let k = 0; k < v.length; k++) if (!isPlainAttempt(v[k], marks)) return false;
        break;
      case 'state':
        if (v !== 'excused' && v !== 'missing' && v !== 'awaiting') return false;
        break;
      case 'dueAt':
      case 'closesAt':
        if (typeof v !== 'string' || parseMoment(v) === null) return false;
        break;
      case 'set':
        if (!isPlainNumber(v)) return false;
        break;
      case 'protected':
        if (typeof v !== 'boolean') return false;
        break;
      default:
        return false;
    }
  }
  return true;
}

function isPlainAttempt(a: unknown, marks: ReadonlySet<string> | null): boolean {
  if (!isObject(a)) return false;
  let scores = 0;
  for (const key in a) {
    const v = a[key];
    switch (key) {
      case 'score':
        scores++;
        if (!isPlainNumber(v)) return false;
        break;
      case 'mark':
        scores++;
        if (marks === null || typeof v !== 'string' || !marks.has(v)) return false;
        break;
      case 'receivedAt':
        if (typeof v !== 'string' || parseMoment(v) === null) return false;
        break;
      case 'onTime':
        if (typeof v !== 'boolean') return false;
        break;
      case 'lateUnits':
        if (!isPlainNumber(v) || !Number.isInteger(v)) return false;
        break;
      case 'info':
        break;
      default:
        return false;
    }
  }
  return scores <= 1;
}

/** A number of the contract that is not negative. */
const isPlainNumber = (v: unknown): v is number =>
  typeof v === 'number' && v >= 0 && v <= 1e9 && Math.round(v * 10_000) / 10_000 === v;

function checkEntry(
  p: Problems,
  at: string,
  entry: unknown,
  students: ReadonlyMap<string, number>,
  tree: TreeNames,
): void {
  if (!object(p, at, entry, ENTRY, ['student', 'item'])) return;
  if (has(entry, 'student')) known(p, `${at}/student`, entry['student'], students, 'student');
  const item = has(entry, 'item') && known(p, `${at}/item`, entry['item'], tree.items, 'item');
  checkContent(p, at, entry, item ? tree.items.get(entry['item'] as string)!.marks : undefined);
}

/**
 * What an entry holds, wherever it stands. `marks`: the labels of the item, null where it has none, undefined where the
 * item is not known.
 */
export function checkContent(
  p: Problems,
  at: string,
  entry: Json,
  marks: ReadonlySet<string> | null | undefined,
): void {
  if (has(entry, 'state')) choice(p, `${at}/state`, entry['state'], ['excused', 'missing', 'awaiting']);
  for (const key of ['dueAt', 'closesAt']) if (has(entry, key)) moment(p, `${at}/${key}`, entry[key]);
  if (has(entry, 'lateAllowances'))
    number(p, `${at}/lateAllowances`, entry['lateAllowances'], { whole: true, most: 1000 });
  if (has(entry, 'set')) number(p, `${at}/set`, entry['set']);
  if (has(entry, 'protected')) boolean(p, `${at}/protected`, entry['protected']);
  if (!has(entry, 'attempts') || !list(p, `${at}/attempts`, entry['attempts'])) return;
  entry['attempts'].forEach((attempt, j) => checkAttempt(p, `${at}/attempts/${j}`, attempt, marks));
}

function checkAttempt(p: Problems, at: string, v: unknown, marks: ReadonlySet<string> | null | undefined): void {
  if (!object(p, at, v, ATTEMPT)) return;
  if (has(v, 'score') && has(v, 'mark')) p.add(at, 'An attempt has either a score or a mark, not both.');
  if (has(v, 'score')) number(p, `${at}/score`, v['score']);
  if (has(v, 'mark') && marks !== undefined) {
    if (marks === null) p.add(`${at}/mark`, 'This item has no named marks.');
    else known(p, `${at}/mark`, v['mark'], marks, 'mark');
  } else if (has(v, 'mark')) text(p, `${at}/mark`, v['mark']);
  if (has(v, 'receivedAt')) moment(p, `${at}/receivedAt`, v['receivedAt']);
  if (has(v, 'onTime')) boolean(p, `${at}/onTime`, v['onTime']);
  if (has(v, 'lateUnits')) number(p, `${at}/lateUnits`, v['lateUnits'], { whole: true });
}
