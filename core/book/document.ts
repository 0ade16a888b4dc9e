/**
 * The book document `last-tally.book/1` (contract, sections 1 to 8): everything a calculation needs, as plain data.
 * Points and percents are numbers with at most four decimals; moments are RFC 3339 texts with an offset.
 */
export interface BookDocument {
  format: 'last-tally.book/1';
  timeZone: string;
  asOf: string;
  closing?: boolean;
  lateAllowanceHours?: number;
  rules?: RuleSets;
  blank: string;
  late?: string | null;
  scale?: string | null;
  rounding: Rounding;
  tree: Group;
  hurdles?: Hurdle[];
  /** By name: what is another for some students. */
  variants?: Record<string, Variant>;
  shown?: ShownScale;
  students: Student[];
  entries: Entry[];
  overrides?: Override[];
  info?: unknown;
}

export interface RuleSets {
  late?: Record<string, LateRule>;
  blank?: Record<string, BlankRule>;
  marks?: Record<string, NamedMark[]>;
  scales?: Record<string, Scale>;
  info?: unknown;
}

export interface Rounding {
  decimals: number;
  mode: 'half-up' | 'half-even' | 'down';
  info?: unknown;
}

/** Section 4.1. `deduct`, `max` and `floor` are percents; `unit` goes with `deduct`, `steps` with `after`. */
export interface LateRule {
  unit?: 'hour' | 'day';
  deduct?: number;
  steps?: { hours: number; deduct: number; info?: unknown }[];
  after?: number;
  max?: number;
  /** What work takes that comes after it closes, where that is more; no floor holds it. */
  afterCloses?: number;
  of?: 'possible' | 'earned';
  floor?: number;
  graceMinutes?: number;
  skipDays?: number[];
  skipDates?: string[];
  /** Late units that every student may spend, by themselves in order of due dates. With `unit` alone. */
  bank?: { units: number; perItem?: number; info?: unknown };
  info?: unknown;
}

/** Section 3. */
export interface BlankRule {
  beforeDue: 'skip' | 'zero';
  afterDue: 'skip' | { percent: number; info?: unknown };
  missingAfter?: 'due' | 'closes';
  info?: unknown;
}

export interface NamedMark {
  label: string;
  percent: number;
  info?: unknown;
}

/** Section 8. */
export interface Scale {
  bands: { label: string; from: number; info?: unknown }[];
  lookUp?: 'rounded' | 'exact';
  info?: unknown;
}

export type Combine = 'points' | 'weights' | 'equal' | 'median' | 'decaying';

/** A piecewise straight line: points [x, y], x strictly rising; level before the first and after the last. */
export type Line = [number, number][];

/** What becomes of a group's ratio × 100 before it goes on: one of three kinds. */
export interface Then {
  step?: number;
  mode?: Rounding['mode'];
  through?: Line;
  /** [from, gives]: what stands beside the highest `from` that is reached, 0 where none is. */
  steps?: [number, number][];
  info?: unknown;
}

/** Section 5. */
export interface Group {
  id: string;
  type: 'group';
  combine: Combine;
  weight?: number;
  extraCredit?: boolean;
  drop?: { lowest?: number; highest?: number; info?: unknown };
  keepBest?: number;
  /** With `decaying`: what the newest child makes of the whole, in percent. */
  newest?: number;
  /** What extra credit adds at most, in percent. */
  extraAtMost?: number;
  then?: Then | null;
  alwaysKept?: boolean;
  whenEmpty?: 'skip' | 'zero';
  cap?: number | null;
  floor?: number | null;
  late?: string | null;
  blank?: string;
  children: Node[];
  info?: unknown;
}

export type Curve =
  | { kind: 'add'; points: number; info?: unknown }
  | { kind: 'top'; at: number; info?: unknown }
  | { kind: 'line'; through: Line; info?: unknown };

/** Which value the scored attempts make together. */
export type AttemptUse = 'best' | 'latest' | 'first' | 'mean' | 'decaying' | 'regain';

/** Section 4: what becomes of several attempts. Percents. */
export interface AttemptsRule {
  use?: AttemptUse;
  /** Of the points, from attempt 2 on; of a list its first number for attempt 2, its last for all after. */
  retakeCap?: number | number[];
  /** With `decaying`: what the newest makes of the whole. */
  newest?: number;
  /** With `regain`: what of the points that were lost at first the best later attempt wins back. */
  regain?: number;
  info?: unknown;
}

/** Section 2: a leaf of the tree. */
export interface Item {
  id: string;
  type: 'item';
  points: number;
  weight?: number;
  extraCredit?: boolean;
  counts?: boolean;
  alwaysKept?: boolean;
  due?: string;
  closes?: string;
  sectionDates?: Record<string, { due?: string; closes?: string; info?: unknown }>;
  late?: string | null;
  blank?: string;
  marks?: string | null;
  attempts?: AttemptsRule;
  curve?: Curve | null;
  info?: unknown;
}

/** Section 5.2: a node counted once more, in another place. At most one of `through`, `from` and `reaching`. */
export interface Also {
  id: string;
  type: 'also';
  of: string;
  weight?: number;
  points?: number;
  extraCredit?: boolean;
  alwaysKept?: boolean;
  /** Stands in for the lowest beside it, if it is better. */
  standsIn?: boolean;
  through?: Line;
  from?: number;
  reaching?: number;
  info?: unknown;
}

export type Node = Group | Item | Also;

/** Section 6: a hurdle with its consequence (`capAt` or `letter`), or a count (`over`, `each`, `takes`). */
export interface Hurdle {
  node: string;
  atLeast?: number | 'handed-in';
  capAt?: number | { node?: string; letter?: string; info?: unknown };
  letter?: string;
  over?: number;
  each?: number;
  takes?: { percent?: number; letters?: number; info?: unknown };
  most?: number;
  info?: unknown;
}

/** Section 5.3. */
export interface Variant {
  weights?: Record<string, number>;
  leftOut?: string[];
  scale?: string | null;
  info?: unknown;
}

/** Section 8: the final percentage once more, on another scale. */
export interface ShownScale {
  through: Line;
  decimals: number;
  mode: Rounding['mode'];
  step?: number;
  label?: string;
  info?: unknown;
}

export interface Student {
  id: string;
  section?: string;
  extraTimeHours?: number;
  variant?: string;
  info?: unknown;
}

export type StatedState = 'excused' | 'missing' | 'awaiting';

/** One try at an item: a score in points, or a named mark, or neither (work that waits to be marked). */
export interface Attempt {
  score?: number;
  mark?: string;
  receivedAt?: string;
  onTime?: boolean;
  lateUnits?: number;
  info?: unknown;
}

/** What one student has on one item. */
export interface Entry {
  student: string;
  item: string;
  state?: StatedState;
  attempts?: Attempt[];
  dueAt?: string;
  closesAt?: string;
  lateAllowances?: number;
  set?: number;
  protected?: boolean;
  info?: unknown;
}

export interface Override {
  student: string;
  percent?: number;
  letter?: string;
  reason?: string;
  info?: unknown;
}

/** The state of an item for a student, as section 2's table gives it. */
export type ItemState = 'excused' | 'set' | 'scored' | 'pending' | 'missing' | 'awaiting' | 'blank' | 'left-out';

/** The result document `last-tally.result/1` (section 9). */
export interface ResultDocument {
  format: 'last-tally.result/1';
  students: StudentResult[];
}

export interface StudentResult {
  id: string;
  percent: string | null;
  exact: string | null;
  letter: string | null;
  low: string | null;
  high: string | null;
  items: { id: string; state: ItemState; earned: string | null; dropped: boolean }[];
  groups: { id: string; exact: string | null }[];
  /** There only where the tree has any. */
  alsos?: { id: string; exact: string | null; dropped: boolean }[];
  /** There only where the book has it. */
  shown?: string | null;
}

/** Every item of a tree, depth first, in book order. */
export function itemsOf(node: Node): Item[] {
  if (node.type === 'also') return [];
  return node.type === 'item' ? [node] : node.children.flatMap(itemsOf);
}

/** Every group of a tree, a group before its children. */
export function groupsOf(node: Node): Group[] {
  return node.type === 'group' ? [node, ...node.children.flatMap(groupsOf)] : [];
}

/** Every also of a tree. */
export function alsosOf(node: Node): Also[] {
  if (node.type === 'also') return [node];
  return node.type === 'group' ? node.children.flatMap(alsosOf) : [];
}
