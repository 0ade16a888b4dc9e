import type { Also, BlankRule, BookDocument, Group, Item, Override, Student } from '../../book/document';
import type { Fraction } from '../../exact/fraction';
import type { ExactLine } from '../../exact/line';
import type { Cells } from '../cells/cells';
import type { CompactEntries } from '../cells/entries-by-item';
import type { CompiledLate } from '../cells/lateness';
import type { CompiledScale } from '../letters';
import type { CompiledShown } from '../shown';
import type { CompiledThen } from '../then';
import type { CompiledVariant } from './variants';

/**
 * A checked book with every reference resolved once and the value of every cell, so that working out one student
 * touches only that student. Nodes are numbered in book order (depth first, a group before its children), items,
 * groups and alsos each for themselves.
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
  alsos: CompiledAlso[];
  nodes: Map<string, CompiledNode>;
  /** The tree as it stands, and after it as each variant has it. */
  variants: CompiledVariant[];
  /** The number of each student's variant. */
  variantOf: Uint16Array;
  /** The book's own; a variant may have another. */
  scale: CompiledScale | null;
  shown: CompiledShown | null;
  students: Student[];
  studentIndex: Map<string, number>;
  /** `extraTimeHours` of each student, in milliseconds. */
  extraMillis: Float64Array;
  /** By student and item number; a student without any entry has an empty row. Read with `entryAt`. */
  entries: CompactEntries;
  /** What each cell is worth, beside its entry. */
  cells: Cells;
  overrides: Map<string, Override>;
}

export interface CompiledCommon {
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
  /** A count (section 6) names it: blanks of it are skipped, and it is never open. */
  isCount: boolean;
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
  then: CompiledThen | null;
  cap: Fraction | null;
  floor: Fraction | null;
  /** Of one; null: no limit. */
  extraAtMost: Fraction | null;
  /** Of one, in a `decaying` group. */
  newest: Fraction | null;
  /** Of an extra-credit group: the pieces that are worth nothing once one of them is done (section 5.2). */
  pieces: CompiledItem[];
}

export interface CompiledAlso extends CompiledCommon {
  type: 'also';
  index: number;
  source: Also;
  of: CompiledItem | CompiledGroup;
  points: Fraction | null;
  standsIn: boolean;
  through: ExactLine | null;
  /** Of one. */
  from: Fraction | null;
  reaching: Fraction | null;
}

export type CompiledNode = CompiledItem | CompiledGroup | CompiledAlso;
