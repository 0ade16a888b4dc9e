import { cellKey } from '@contract/wire/cell-key';
import { rulesOf, type PlacedItem } from '@core/book/assemble';
import { changeCell, contentOf, isEmpty, type EntryContent, type RulesPart } from '@core/book/change';
import { rulesFileText } from '@core/book/rules-file';
import { checkBook } from '@core/book/checks/check';
import type { BookDocument } from '@core/book/document';
import { putEntry } from '@core/calculation/cells/cells';
import { compileBook, type CompiledBook } from '@core/calculation/compiled/compile';
import { workOutStudent, type StudentOutcome } from '@core/calculation/final';
import { entriesOf, entryAt } from '@core/calculation/cells/entries-by-item';
import {
  emptyStandings,
  makeStandingsWorker,
  workOutStanding,
  standingAt,
  standingsOf,
  type StandingsWorker,
  type Standing,
  type Standings,
} from '@core/estimate/standings';
import { explainGroup } from '@core/working/explain-group';
import { explainItem } from '@core/working/explain-item';
import { explainStanding } from '@core/working/explain-standing';
import { needLines } from '@core/working/need-sentences';
import { needsOf } from '@core/working/needs';
import { sentences, type Line } from '@core/working/sentences';
import type { Sheet } from '@contract/books';
import type { Trial } from '@core/proposal/compare';
import type { Difference } from '@core/proposal/differences';
import { placedItems, proposedBook, type Proposal } from '@core/proposal/proposal';
import type { Warning } from '@core/warnings/warnings';
import { standingWithout, type HeldException, type ShownStanding } from '@core/proposal/exception-effects';
import { emptyColumns, groupTitles, writeCell } from './columns';
import { FLAG, type CellColumns, type CellWish, type StoredCell, type RowUpdate, type StandingAt } from './protocol';
import type { Titles, WholeSheet } from './protocol';
import { overTerm, totalsOf } from './totals';
import { workOutProposal, type WorkedProposal } from '@core/proposal/work-out';
import { causesOf, whatIfCells, whatIfItems, whatIfOverride, warningsOfRules, type WishedGrade } from './what-if';
import type { ItemsProposal, StudentWhatIf } from './what-if';

/** Why cells cannot be read as they are kept, by cell key. */
export const faultsOf = ({ faulty = [] }: Sheet): Map<string, string> =>
  new Map(faulty.map((f) => [cellKey(f.enrolment, f.assessment), f.fault]));

/** Assessments in which names are hidden, with how much work waits there. */
export const hiddenOf = ({ hidden = [] }: Sheet): Map<string, number> =>
  new Map(hidden.map((h) => [h.assessment, h.waits]));

/** The book that the worker keeps compiled, with what stands beside its entries. */
export class WorkerBook {
  private compiled: CompiledBook;
  private reckoner: StandingsWorker;
  /** Standings as they are, until something changes. */
  private known: Standings | null = null;
  private readonly versions: number[][];
  private readonly outs: number[][];
  private readonly hidden: ReadonlyMap<string, number>;

  constructor(sheet: Sheet) {
    const checked = checkBook(sheet.document);
    if (!checked.ok)
      throw new Error(`The book could not be worked out: ${checked.problems[0]!.says} (${checked.problems[0]!.at})`);
    this.hidden = hiddenOf(sheet);
    this.compiled = compileBook(checked.book);
    this.reckoner = makeStandingsWorker(this.compiled);
    this.versions = this.compiled.book.students.map(() => []);
    this.outs = this.compiled.book.students.map(() => []);
    sheet.document.entries.forEach((e, i) => {
      const [s, item] = this.place(e.student, e.item);
      this.versions[s]![item] = sheet.versions[i]!;
      this.outs[s]![item] = sheet.releaseStates[i]!;
    });
  }

  get book(): BookDocument {
    return this.compiled.book;
  }

  get students(): string[] {
    return this.compiled.book.students.map((s) => s.id);
  }

  get items(): string[] {
    return this.compiled.items.map((i) => i.id);
  }

  get rules(): RulesPart {
    return rulesOf(this.compiled.book);
  }

  /** All cells without drops, which need the standings; the page shows these first. */
  cells(): CellColumns {
    const width = this.compiled.items.length;
    const columns = emptyColumns(this.students.length * width);
    for (let s = 0; s < this.students.length; s++) this.writeRow(s, columns, s * width, null);
    return columns;
  }

  /** Every standing, and which cells are dropped: 1 at their places. */
  standings(): { standings: Standing[]; dropped: Uint8Array } {
    const all = standingsOf(this.compiled);
    return { standings: this.compiled.students.map((_, s) => standingAt(all, s)), dropped: all.dropped };
  }

  private writeRow(s: number, columns: CellColumns, from: number, dropped: Uint8Array | null): void {
    for (const item of this.compiled.items)
      writeCell(this.compiled, s, item, columns, from + item.index, {
        dropped: dropped !== null && dropped[item.index] === 1,
        out: this.outs[s]![item.index] ?? 0,
        version: this.versions[s]![item.index] ?? 0,
        hidden: this.hidden.has(item.id),
      });
  }

  content(student: string, item: string): EntryContent {
    const [s, i] = this.place(student, item);
    return contentOf(entryAt(this.compiled, s, i));
  }

  column(item: string): { student: string; content: EntryContent }[] {
    return this.students.map((student) => ({ student, content: this.content(student, item) }));
  }

  contents(student: string): { item: string; content: EntryContent }[] {
    return this.items.flatMap((item) => {
      const content = this.content(student, item);
      return isEmpty(content) ? [] : [{ item, content }];
    });
  }

  change(cells: CellWish[]): RowUpdate[] {
    const touched = new Set<number>();
    for (const { student, item, change } of cells) {
      const [s, i] = this.place(student, item);
      this.put(student, item, changeCell(contentOf(entryAt(this.compiled, s, i)), change));
      if (this.outs[s]![i] === 1) this.outs[s]![i] = 2;
      touched.add(s);
    }
    return [...touched].map((s) => this.row(s));
  }

  settle(cells: StoredCell[]): RowUpdate[] {
    const touched = new Set<number>();
    for (const { student, item, content, version, releaseState: out } of cells) {
      const [s, i] = this.place(student, item);
      this.put(student, item, content);
      this.versions[s]![i] = version;
      this.outs[s]![i] = out;
      touched.add(s);
    }
    return [...touched].map((s) => this.row(s));
  }

  /** Works the book out as if the term ended now, or as it is. */
  atClosing(on: boolean): WholeSheet {
    const { closing: _was, ...book } = this.current();
    // A book whose rules say that it is closing stays so.
    this.rulesClose ??= _was === true;
    this.compiled = compileBook(on || this.rulesClose ? { ...book, closing: true } : book);
    this.reckoner = makeStandingsWorker(this.compiled);
    this.known = null;
    return this.whole();
  }
  private rulesClose: boolean | undefined;

  private whole(): WholeSheet {
    const cells = this.cells();
    const { standings, dropped } = this.standings();
    dropped.forEach((d, i) => (cells.flags[i]! |= d ? FLAG.dropped : 0));
    return { cells, standings };
  }

  totals(group: string): Float64Array {
    return totalsOf(this.compiled, group);
  }

  overTerm(student: string): StandingAt[] {
    return overTerm(this.current(), student);
  }

  private put(student: string, item: string, content: EntryContent): void {
    const [s, i] = this.place(student, item);
    this.known = null;
    putEntry(this.compiled, s, i, isEmpty(content) ? undefined : { student, item, ...content });
  }

  /** One student as they are now, by their number: cells in item order and standing. */
  row(s: number): RowUpdate {
    const place = emptyStandings(this.compiled, 1);
    workOutStanding(this.reckoner, s, place, 0);
    const columns = emptyColumns(this.compiled.items.length);
    this.writeRow(s, columns, 0, place.dropped);
    return { student: this.students[s]!, cells: columns, standing: standingAt(place, 0) };
  }

  private place(student: string, item: string): [number, number] {
    const s = this.compiled.studentIndex.get(student);
    const node = this.compiled.nodes.get(item);
    if (s === undefined || node?.type !== 'item')
      throw new Error('This cell is not in the book any more. Load the page again.');
    return [s, node.index];
  }

  private outcome(student: string): StudentOutcome {
    return workOutStudent(this.compiled, this.compiled.studentIndex.get(student)!);
  }

  private words(titles: Titles) {
    const groups = groupTitles(this.compiled);
    return { timeZone: this.compiled.book.timeZone, name: (id: string) => titles[id] ?? groups[id] ?? id };
  }

  explainItem(student: string, item: string, titles: Titles): Line[] {
    const node = this.compiled.nodes.get(item);
    return node?.type === 'item'
      ? sentences(explainItem(this.compiled, this.outcome(student), node), this.words(titles))
      : [];
  }

  explainGroup(student: string, group: string, titles: Titles): Line[] {
    const node = this.compiled.nodes.get(group);
    return node?.type === 'group' ? sentences(explainGroup(this.outcome(student), node), this.words(titles)) : [];
  }

  explainStanding(student: string, titles: Titles): Line[] {
    const steps = explainStanding(this.compiled, this.outcome(student));
    const next = steps.find((s) => s.step === 'letter')?.next?.label;
    // What it takes to the next band stands under what is still open.
    const needs = next === undefined ? [] : needsOf(this.compiled, this.compiled.studentIndex.get(student)!, next);
    const words = this.words(titles);
    return [...sentences(steps, words), ...needLines(needs, words)];
  }

  /** The book as it is now, with what was changed since it was fetched. */
  current(): BookDocument {
    return {
      ...this.compiled.book,
      entries: entriesOf(this.compiled),
    };
  }

  /** Where changes of cells would leave the students concerned. */
  tryCells(wishes: CellWish[]): StudentWhatIf[] {
    return whatIfCells(this.compiled, wishes);
  }

  /** Where a final grade set by hand would leave these students. */
  tryOverride(students: string[], grade: WishedGrade): StudentWhatIf[] {
    return whatIfOverride(this.compiled, students, grade);
  }

  /** The standing of each without one exception. */
  without(held: HeldException[]): ShownStanding[] {
    return held.map((h) => standingWithout(this.compiled, h));
  }

  /** The book with other assessments, beside the book as it is. */
  tryItems(tried: ItemsProposal): { trial: Trial; problems: string[] } {
    return whatIfItems(this.compiled, this.current(), tried);
  }

  /** The assessments of the book in their categories, in book order. */
  placed(): PlacedItem[] {
    return placedItems(this.compiled.book);
  }

  /** The book under other rules and settings, beside the book as it is. */
  trial(wish: Proposal): WorkedProposal {
    return workOutProposal(this.compiled, () => this.current(), wish, (this.known ??= standingsOf(this.compiled)));
  }

  /** What moves each mover of a wish. */
  causes(wish: Proposal): Record<string, Difference[]> {
    return causesOf(this.current(), wish, this.trial(wish).trial);
  }

  rulesFile(wish: Proposal | null): string {
    return rulesFileText(wish ? proposedBook(this.compiled.book, wish) : this.compiled.book);
  }

  /** What the core warns of in the rules as they are, or as a sound wish would have them. */
  warnings(wish: Proposal | null): Warning[] {
    return warningsOfRules(wish ? proposedBook(this.compiled.book, wish) : this.compiled.book);
  }
}
