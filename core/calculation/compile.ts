import type { BlankRule, BookDocument, Group, Item, Override, Student } from '../book/document';
import { fraction, fromNumber, multiply, percent, type Fraction } from '../exact/fraction';
import { emptyCells, makeCells, putEntry, type Cells } from './cells';
import { compileLate, type CompiledLate } from './lateness';
import { compileHurdles, type NodeHurdles } from './hurdles';
import { compileScale, type CompiledScale } from './letters';
import { hoursToMillis, parseMoment } from '../time/moment';
import { flatten, type FlatTree } from '../estimate/flat-tree';
import type { CompactEntries } from './entries-by-item';

/**
 * A checked book with every reference resolved once and the value of every cell, so that working out one student
 * touches only that student. Nodes are numbered in book order (depth first, a group before its children).
 */
export interface CompiledBook {
  /** The document as it was given. After changes its `entries` are no longer these: see {@link entries}. */
  book: BookDocument;
  asOf: number;
  closing: boolean;
  lateAllowanceMillis: number;
  root: CompiledGroup;
  items: CompiledItem[];
  groups: CompiledGroup[];
  nodes: Map<string, CompiledNode>;
  flat: FlatTree;
  hurdles: NodeHurdles[];
  scale: CompiledScale | null;
  students: Student[];
  studentIndex: Map<string, number>;
  /** `extraTimeHours` of each student, in milliseconds. */
  extraMillis: Float64Array;
  /** By student and item number; a student without any entry has an empty row. Read with {@link entryAt}. */
  entries: CompactEntries;
  /** What each cell is worth, beside its entry. */
  cells: Cells;
  overrides: Map<string, Override>;
}

interface CompiledCommon {
  id: string;
  /** The group that holds it; null for the root. */
  parent: CompiledGroup | null;
  weight: Fraction;
  extraCredit: boolean;
  alwaysKept: boolean;
  /** It, or a group above it, is extra credit (contract, section 2). */
  optional: boolean;
}

export interface CompiledItem extends CompiledCommon {
  type: 'item';
  index: number;
  source: Item;
  points: Fraction;
  counts: boolean;
  late: CompiledLate | null;
  lateName: string | null;
  blank: BlankRule;
  blankName: string;
  /** What a blank past due earns, in points; null: skipped. */
  afterDue: Fraction | null;
  due: number | null;
  closes: number | null;
  sectionDates: Map<string, { due: number | null; closes: number | null }> | null;
  /** Label → percent of the points, of one. */
  marks: Map<string, Fraction> | null;
}

export interface CompiledGroup extends CompiledCommon {
  type: 'group';
  index: number;
  source: Group;
  children: CompiledNode[];
  cap: Fraction | null;
  floor: Fraction | null;
  /** W of section 5, step 3; null in a `points` group or where no child could ever count. */
  bonusBase: Fraction | null;
}

export type CompiledNode = CompiledItem | CompiledGroup;

const moment = (text: string | undefined): number | null => (text === undefined ? null : parseMoment(text));

/** Compiles a document that {@link checkBook} has passed. A faulty one may throw. */
export function compileBook(book: BookDocument): CompiledBook {
  return putEntries(compileRules(book), book);
}

/**
 * A document whose rules and tree are the very objects of one compiled before, with other students: what is compiled of
 * the tree is taken over. Nothing of `like` is changed.
 */
export function compileLike(like: CompiledBook, book: BookDocument): CompiledBook {
  const compiled: CompiledBook = { ...like, book, ...compileStudents(book) };
  compiled.cells = emptyCells(compiled);
  makeCells(compiled);
  return putEntries(compiled, book);
}

function putEntries(compiled: CompiledBook, book: BookDocument): CompiledBook {
  const items = new Map(compiled.items.map((item) => [item.id, item.index]));
  let student = '';
  let s = -1;
  for (const entry of book.entries) {
    // Entries mostly come student by student.
    if (entry.student !== student) s = compiled.studentIndex.get((student = entry.student))!;
    putEntry(compiled, s, items.get(entry.item)!, entry);
  }
  return compiled;
}

/** The same with no entry at all: every cell a blank. Entries are then put with {@link putEntry}. */
export function compileRules(book: BookDocument): CompiledBook {
  const compiled = compileTree(book);
  makeCells(compiled);
  return compiled;
}

/** What of a compiled book is its students and its moment. */
function compileStudents(
  book: BookDocument,
): Pick<CompiledBook, 'asOf' | 'students' | 'studentIndex' | 'extraMillis' | 'entries' | 'overrides'> {
  const { students } = book;
  return {
    asOf: parseMoment(book.asOf)!,
    students,
    studentIndex: new Map(students.map((s, i) => [s.id, i])),
    extraMillis: Float64Array.from(students, (s) => hoursToMillis(s.extraTimeHours ?? 0)),
    entries: students.map(() => []),
    overrides: new Map((book.overrides ?? []).map((o) => [o.student, o])),
  };
}

/** Rules, tree and students with no cell valued yet. */
export function compileTree(book: BookDocument): CompiledBook {
  const lates = new Map(
    Object.entries(book.rules?.late ?? {}).flatMap(([n, r]) => (n === 'info' ? [] : [[n, compileLate(r)] as const])),
  );
  const items: CompiledItem[] = [];
  const groups: CompiledGroup[] = [];
  const nodes = new Map<string, CompiledNode>();

  const walk = (
    node: Group | Item,
    above: { late: string | null; blank: string; optional: boolean; parent: CompiledGroup | null },
  ): CompiledNode => {
    const late = node.late === undefined ? above.late : node.late;
    const blank = node.blank ?? above.blank;
    const common = {
      id: node.id,
      parent: above.parent,
      weight: fromNumber(node.weight ?? 1),
      extraCredit: node.extraCredit === true,
      alwaysKept: node.alwaysKept === true,
      optional: above.optional || node.extraCredit === true,
    };
    if (node.type === 'item') {
      const item = compileItem(book, node, common, { index: items.length, late, blank, lates });
      items.push(item);
      nodes.set(item.id, item);
      return item;
    }
    const group: CompiledGroup = {
      ...common,
      type: 'group',
      index: groups.length,
      source: node,
      children: [],
      cap: node.cap === undefined || node.cap === null ? null : percent(node.cap),
      floor: node.floor === undefined || node.floor === null ? null : percent(node.floor),
      bonusBase: null,
    };
    groups.push(group);
    nodes.set(group.id, group);
    const below = { late, blank, optional: common.optional, parent: group };
    group.children = node.children.map((child) => walk(child, below));
    group.bonusBase = bonusBase(group);
    return group;
  };
  const top = { late: book.late ?? null, blank: book.blank, optional: false, parent: null };
  const root = walk(book.tree, top) as CompiledGroup;
  const compiled: CompiledBook = {
    book,
    ...compileStudents(book),
    closing: book.closing === true,
    lateAllowanceMillis: hoursToMillis(book.lateAllowanceHours ?? 24),
    root,
    items,
    groups,
    nodes,
    flat: flatten(items, groups),
    hurdles: compileHurdles(book.hurdles ?? [], nodes),
    scale: book.scale == null ? null : compileScale(book.rules!.scales![book.scale]!),
    cells: { width: 0, kind: new Uint8Array(), earned: new Float64Array(), exact: new Map() },
  };
  compiled.cells = emptyCells(compiled);
  return compiled;
}

function compileItem(
  book: BookDocument,
  node: Item,
  common: CompiledCommon,
  place: { index: number; late: string | null; blank: string; lates: Map<string, CompiledLate> },
): CompiledItem {
  const blank = book.rules!.blank![place.blank]!;
  const points = fromNumber(node.points);
  const sections = Object.entries(node.sectionDates ?? {}).filter(([section]) => section !== 'info');
  return {
    ...common,
    type: 'item',
    index: place.index,
    source: node,
    points,
    counts: node.counts !== false,
    late: place.late === null ? null : place.lates.get(place.late)!,
    lateName: place.late,
    blank,
    blankName: place.blank,
    afterDue: common.optional || blank.afterDue === 'skip' ? null : multiply(percent(blank.afterDue.percent), points),
    due: moment(node.due),
    closes: moment(node.closes),
    sectionDates:
      sections.length === 0
        ? null
        : new Map(sections.map(([section, d]) => [section, { due: moment(d.due), closes: moment(d.closes) }])),
    marks: node.marks ? new Map(book.rules!.marks![node.marks]!.map((m) => [m.label, percent(m.percent)])) : null,
  };
}

/** The parts of W (section 5, step 3): S, the sum of the shares, and how many of the N children stay in the end. */
export function bonusParts(group: CompiledGroup): { sum: Fraction; kept: number; all: number } {
  const { combine, drop, keepBest } = group.source;
  const share = (c: CompiledNode): number => (combine === 'equal' ? 1 : (c.source.weight ?? 1));
  const regular = group.children.filter((c) => !c.extraCredit && share(c) > 0 && (c.type === 'group' || c.counts));
  const N = regular.length;
  const droppable = regular.filter((c) => !c.alwaysKept).length;
  const wanted = keepBest === undefined ? (drop?.lowest ?? 0) + (drop?.highest ?? 0) : droppable - keepBest;
  const d = Math.max(0, Math.min(wanted, droppable, N - 1));
  // Weights have at most four decimals and are at most 10^9, so each is a whole number of ten-thousandths.
  const sum = regular.reduce((total, c) => total + BigInt(Math.round(share(c) * 10_000)), 0n);
  return { sum: fraction(sum, 10_000n), kept: N - d, all: N };
}

/** W: what an extra-credit share is measured against in `weights` and `equal` groups. */
function bonusBase(group: CompiledGroup): Fraction | null {
  if (group.source.combine === 'points') return null;
  const { sum, kept, all } = bonusParts(group);
  return all === 0 ? null : multiply(sum, fraction(kept, all));
}
