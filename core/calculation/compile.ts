import type { BlankRule, BookDocument, Entry, Group, Item, LateRule, Override, Scale, Student } from '../book/document';
import { fraction, fromNumber, percent, type Fraction } from '../exact/fraction';
import { parseMoment } from './moment';

/**
 * A checked book with every reference resolved once, so that working out one student touches only that student.
 * Nodes are numbered in book order (depth first, a group before its children).
 */
export interface CompiledBook {
  book: BookDocument;
  asOf: number;
  closing: boolean;
  lateAllowanceMillis: number;
  root: CompiledGroup;
  items: CompiledItem[];
  groups: CompiledGroup[];
  nodes: Map<string, CompiledNode>;
  scale: Scale | null;
  studentIndex: Map<string, number>;
  /** entries[student][item], both by their numbers. */
  entries: (Entry | undefined)[][];
  overrides: Map<string, Override>;
}

interface CompiledCommon {
  id: string;
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
  due: number | null;
  closes: number | null;
  sectionDates: Map<string, { due: number | null; closes: number | null }>;
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

export interface CompiledLate {
  rule: LateRule;
  skipDays: ReadonlySet<number>;
  skipDates: ReadonlySet<string>;
  graceMillis: number;
  max: Fraction;
  floor: Fraction;
}

const moment = (text: string | undefined): number | null => (text === undefined ? null : parseMoment(text));

/** Compiles a document that {@link checkBook} has passed. A faulty one may throw. */
export function compileBook(book: BookDocument): CompiledBook {
  const late = new Map<string, CompiledLate>();
  for (const [name, rule] of Object.entries(book.rules?.late ?? {})) late.set(name, compileLate(rule));
  const items: CompiledItem[] = [];
  const groups: CompiledGroup[] = [];
  const nodes = new Map<string, CompiledNode>();

  const walk = (node: Group | Item, above: { late: string | null; blank: string; optional: boolean }): CompiledNode => {
    const lateName = node.late === undefined ? above.late : node.late;
    const blankName = node.blank ?? above.blank;
    const optional = above.optional || node.extraCredit === true;
    const common = {
      id: node.id,
      weight: fromNumber(node.weight ?? 1),
      extraCredit: node.extraCredit === true,
      alwaysKept: node.alwaysKept === true,
      optional,
    };
    if (node.type === 'item') {
      const item: CompiledItem = {
        ...common,
        type: 'item',
        index: items.length,
        source: node,
        points: fromNumber(node.points),
        counts: node.counts !== false,
        late: lateName === null ? null : late.get(lateName)!,
        lateName,
        blank: book.rules!.blank![blankName]!,
        blankName,
        due: moment(node.due),
        closes: moment(node.closes),
        sectionDates: new Map(
          Object.entries(node.sectionDates ?? {}).map(([section, dates]) => [
            section,
            { due: moment(dates.due), closes: moment(dates.closes) },
          ]),
        ),
        marks: node.marks
          ? new Map((book.rules?.marks?.[node.marks] ?? []).map((m) => [m.label, percent(m.percent)]))
          : null,
      };
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
    group.children = node.children.map((child) => walk(child, { late: lateName, blank: blankName, optional }));
    group.bonusBase = bonusBase(group);
    return group;
  };
  const root = walk(book.tree, { late: book.late ?? null, blank: book.blank, optional: false }) as CompiledGroup;

  const studentIndex = new Map(book.students.map((s, i) => [s.id, i]));
  const entries: (Entry | undefined)[][] = book.students.map(() => []);
  for (const entry of book.entries)
    entries[studentIndex.get(entry.student)!]![(nodes.get(entry.item) as CompiledItem).index] = entry;
  return {
    book,
    asOf: parseMoment(book.asOf)!,
    closing: book.closing === true,
    lateAllowanceMillis: (book.lateAllowanceHours ?? 24) * 3_600_000,
    root,
    items,
    groups,
    nodes,
    scale: book.scale == null ? null : (book.rules?.scales?.[book.scale] ?? null),
    studentIndex,
    entries,
    overrides: new Map((book.overrides ?? []).map((o) => [o.student, o])),
  };
}

function compileLate(rule: LateRule): CompiledLate {
  return {
    rule,
    skipDays: new Set(rule.skipDays ?? []),
    skipDates: new Set(rule.skipDates ?? []),
    graceMillis: (rule.graceMinutes ?? 0) * 60_000,
    max: fromNumber(rule.max ?? 100),
    floor: percent(rule.floor ?? 0),
  };
}

/** W: what an extra-credit share is measured against in `weights` and `equal` groups (section 5, step 3). */
function bonusBase(group: CompiledGroup): Fraction | null {
  const { combine, drop, keepBest } = group.source;
  if (combine === 'points') return null;
  const share = (c: CompiledNode): number => (combine === 'equal' ? 1 : (c.source.weight ?? 1));
  const regular = group.children.filter((c) => !c.extraCredit && share(c) > 0 && (c.type === 'group' || c.counts));
  const N = regular.length;
  if (N === 0) return null;
  const droppable = regular.filter((c) => !c.alwaysKept).length;
  const wanted = keepBest === undefined ? (drop?.lowest ?? 0) + (drop?.highest ?? 0) : droppable - keepBest;
  const d = Math.max(0, Math.min(wanted, droppable, N - 1));
  return bonusShare(
    regular.map((c) => (combine === 'equal' ? 1 : (c.source.weight ?? 1))),
    N - d,
    N,
  );
}

function bonusShare(shares: number[], kept: number, all: number): Fraction {
  // Weights have at most four decimals and are at most 10^9, so their sum in ten-thousandths fits a bigint exactly.
  const sum = shares.reduce((total, s) => total + BigInt(Math.round(s * 10_000)), 0n);
  return fraction(sum * BigInt(kept), 10_000n * BigInt(all));
}

/** The student's effective dates on an item, in milliseconds or null (contract, section 2). */
export function effectiveDates(
  compiled: CompiledBook,
  item: CompiledItem,
  student: Student,
  entry: Entry | undefined,
): { due: number | null; closes: number | null } {
  const section = student.section === undefined ? undefined : item.sectionDates.get(student.section);
  const extra = (student.extraTimeHours ?? 0) * 3_600_000;
  const allowance = (entry?.lateAllowances ?? 0) * compiled.lateAllowanceMillis;
  const plus = (own: number | null, general: number | null): number | null =>
    own !== null ? own + allowance : general !== null ? general + extra + allowance : null;
  const due = plus(moment(entry?.dueAt), section?.due ?? item.due);
  let closes = plus(moment(entry?.closesAt), section?.closes ?? item.closes);
  if (closes !== null && due !== null && closes < due) closes = due;
  return { due, closes };
}
