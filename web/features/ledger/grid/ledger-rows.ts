import { inDecimals } from '../../../ui/text/locale';
import { cellKey } from '@contract/wire/cell-key';
import { computed, inject, Injectable } from '@angular/core';
import type { Group } from '@core/book/document';
import { topOf } from '@core/rubric/check-rubric';
import { noTicks, tickOf, type TickCounts } from '@core/statistics/ticks';
import { BookAnnotations } from '../../../data/annotations';
import { outOf } from '../../../data/columns';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { cellView, type CellView } from '../../../ui/text/cell-view';
import { day } from '../../../ui/text/dates';
import { STATES, type Standing } from '../../../worker/protocol';
import { BEYOND, inSlots, mustStack, range } from './geometry';
import type { Column } from './layout';
import { LedgerView } from '../view/ledger-view';

export interface HeadCell {
  col: number;
  /** Null: a criterion, or the total of a folded category. */
  item: string | null;
  title: string;
  about: string;
  ticks: TickCounts | null;
  sorted: '' | 'ascending' | 'descending';
}

export interface RowView {
  row: number;
  student: number;
  name: string;
  section: string;
  look: string;
  /** Which of the elements in use draws this row; rows that stay in view keep theirs. */
  slot: number;
  top: number;
  /** What the row was drawn from: another stamp, another row. */
  stamp: number;
  cells: (CellView & { col: number; slot: number })[];
  standing: Standing | undefined;
}

/** The ledger's rows and heads as they are drawn. */
@Injectable()
export class LedgerRows {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly outbox = this.store.outbox;
  private readonly annotations = inject(BookAnnotations);
  private readonly unreadable = inject(UnreadableEntries);

  /** The categories with the columns they stand over. */
  readonly categories = computed(() => {
    const tree = this.store.rules()?.tree;
    const groups = new Map(this.store.categories().map((g) => [g.id, g]));
    return this.view.spans().map((span) => {
      const group = groups.get(span.category);
      const about = tree && group ? aboutOf(group, tree, this.hurdle(group.id), span.count === 1) : '';
      return { ...span, title: this.view.titleOf(span.category), about };
    });
  });

  readonly heads = computed((): HeadCell[] => {
    this.store.revision();
    const { first, last } = this.view.colSpan();
    const { sort } = this.view.settings();
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return range(first, last).map((col) => {
      const column = this.view.layout()[col]!;
      if (column.kind === 'total')
        return { col, item: null, title: 'total', about: 'percent', ticks: null, sorted: '' as const };
      if (column.kind === 'criterion') {
        const c = this.view.criteria.criterion(column.of, column.criterion);
        const about = c ? `of ${topOf(c)}${c.stands === 'bonus' ? ', bonus' : ''}` : '';
        return { col, item: null, title: c?.title ?? '', about, ticks: null, sorted: '' as const };
      }
      const a = this.store.assessments().get(column.id);
      const about = a ? `${a.points}${a.due ? `\u2009·\u2009${day(a.due, zone)}` : ''}` : '';
      const sorted = sort.by !== column.id ? '' : sort.down ? 'descending' : 'ascending';
      return { col, item: column.id, title: a?.title ?? '', about, ticks: this.ticks(column.item), sorted };
    });
  });

  readonly body = computed((): RowView[] => {
    this.store.revision();
    const cells = this.store.cells();
    if (!cells) return [];
    const view = this.view;
    const rows = view.rows();
    const students = this.store.students();
    const { rowSlots, colSlots } = this.slots();
    const { first, last } = view.colSpan();
    const columns = inSlots(range(first, last), (c) => c % colSlots);
    const visibleRows = inSlots(range(view.rowSpan().first, view.rowSpan().last), (r) => r % rowSlots);
    const drawCell = this.cellDrawer();
    // Rows that nothing has touched since are taken as they are.
    const common = [cells, rows, this.store.people(), view.colSpan(), view.settings(), ...this.beyondCells()];
    common.push(rowSlots, colSlots, view.columnWidth(), view.layout(), view.totals(), view.ranks(), view.headHeight());
    if (common.some((c, i) => c !== this.drawnFor[i])) this.drawn.clear();
    this.drawnFor = common;
    const before = new Map(this.drawn);
    this.drawn.clear();
    const height = view.rowHeight();
    const head = view.headHeight();
    return visibleRows.map((row) => {
      const s = rows[row]!;
      const stamp = this.store.stampOf(s);
      const known = before.get(row);
      if (known?.stamp === stamp && known.standing === this.store.standings()[s]) {
        this.drawn.set(row, known);
        return known;
      }
      const drawn: RowView = {
        row,
        stamp,
        student: s,
        ...this.whoIs(students[s]!, s),
        look: `row${Math.floor(row / 3) % 2 === 1 ? ' bar' : ''}`,
        slot: row % rowSlots,
        top: head + row * height,
        standing: this.store.standings()[s],
        cells: columns.map((col) => ({ ...drawCell(s, view.layout()[col]!), col, slot: col % colSlots })),
      };
      this.drawn.set(row, drawn);
      return drawn;
    });
  });
  private readonly drawn = new Map<number, RowView>();
  private drawnFor: unknown[] = [];

  /** What stands beside the cells and changes how they look. */
  private beyondCells(): unknown[] {
    return [
      this.outbox.troubles(),
      this.outbox.line() === 'up' ? null : this.outbox.unkept(),
      this.annotations.notes(),
      this.annotations.changed(),
      this.unreadable.all(),
      this.store.faults(),
      this.view.criteria.stamp(),
    ];
  }

  private whoIs(student: string, s: number): { name: string; section: string } {
    const person = this.store.people().get(student);
    const sections = this.store.sections();
    const section = sections.size > 1 && person?.section ? (sections.get(person.section) ?? '') : '';
    const rank = this.view.ranks()?.[s];
    return {
      name: person ? (person.given ? `${person.family}, ${person.given}` : person.family) : '',
      section: rank === undefined ? section : `${section} ${rank}.`.trim(),
    };
  }

  private cellDrawer(): (s: number, column: Column) => CellView {
    const cells = this.store.cells()!;
    const students = this.store.students();
    const width = this.store.items().length;
    const zone = this.store.page()?.timeZone ?? 'UTC';
    const named = (at: number): string => day(at, zone);
    const troubles = this.outbox.troubles();
    const unkept = this.outbox.line() === 'up' ? null : this.outbox.unkept();
    const remarks = this.annotations.notes();
    const changed = this.annotations.changed();
    const unreadable = this.unreadable.all();
    const faults = this.store.faults();
    const asMarked = this.view.asMarked();
    const room = this.view.columnWidth();
    const totals = this.view.totals();
    return (s, column) => {
      if (column.kind === 'total') return totalView(totals.get(column.category)?.[s]);
      if (column.kind === 'criterion') return this.view.criteria.cell(column.of, column.criterion, students[s]!);
      const key = cellKey(students[s]!, column.id);
      const remark = remarks.get(key);
      const drawn = cellView(cells, s * width + column.item, {
        asMarked,
        trouble: troubles.get(key)?.kind ?? null,
        unkept: unkept?.has(key) === true,
        day: named,
        unreadableText: unreadable.get(key)?.text ?? null,
        fault: faults.get(key) ?? null,
        noted: remark !== undefined && remark.note !== null,
        secondLook: remark !== undefined && remark.secondLookBy !== null,
        news: changed.has(key),
      });
      const stacked = mustStack(drawn.text, drawn.taken, room) ? ' stacked' : '';
      return { ...drawn, look: `cell ${drawn.look}${stacked}` };
    };
  }

  /** How many elements are in use at most: as many as a window with its margins can show. */
  private readonly slots = computed(() => ({
    rowSlots:
      Math.ceil(Math.max(0, this.view.room().height - this.view.headHeight()) / this.view.rowHeight()) + 2 + 2 * BEYOND,
    colSlots: Math.ceil(this.view.room().width / this.view.columnWidth()) + 2 + 2 * BEYOND,
  }));

  /** How the listed students stand with one assessment. */
  ticks(item: number): TickCounts {
    const cells = this.store.cells();
    const width = this.store.items().length;
    const counts = noTicks();
    if (cells)
      for (const s of this.view.rows()) {
        const at = s * width + item;
        counts[tickOf(STATES[cells.state[at]!]!, outOf(cells.flags[at]!))]++;
      }
    return counts;
  }

  private hurdle(node: string): number | null {
    const of = this.store.rules()?.hurdles?.find((h) => h.node === node && typeof h.atLeast === 'number');
    return typeof of?.atLeast === 'number' ? of.atLeast : null;
  }
}

function totalView(percent: number | undefined): CellView {
  const text =
    percent === undefined || Number.isNaN(percent)
      ? ''
      : inDecimals((Math.floor(percent * 100 + 0.5) / 100).toFixed(1));
  return { text, taken: '', look: 'cell score total', words: text === '' ? 'no total yet' : `total ${text} percent` };
}

/** "30 % · points, lowest dropped" */
function aboutOf(group: Group, tree: Group, hurdle: number | null, narrow: boolean): string {
  const how = { points: 'points', weights: 'weights', equal: 'each alike', median: 'the middle one', decaying: 'the newest most' }[group.combine]; // prettier-ignore
  const lowest = group.drop?.lowest ?? 0;
  const dropped = lowest === 1 ? ', lowest dropped' : lowest > 1 ? `, ${lowest} lowest dropped` : '';
  const share = tree.combine === 'weights' ? `${group.weight ?? 1} %` : '';
  const parts = [share, narrow && share ? '' : `${how}${dropped}`].filter(Boolean).join(' · ');
  return hurdle === null ? parts : `${parts} ≥ ${hurdle}`;
}
