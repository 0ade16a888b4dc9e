import { computed, inject, Injectable, signal } from '@angular/core';
import type { Group } from '@core/book/document';
import { noTicks, tickOf, type TickCounts } from '@core/statistics/ticks';
import { BookStore } from '../state/book';
import { cellKey } from '../state/outbox';
import { day } from '../ui/dates';
import { FLAG, STATES, type Standing } from '../workers/protocol';
import { cellView, type CellView } from '../ui/cell-view';
import { BEYOND, columnWidth, HEAD, mustStack, reveal, ROW, STANDING, visible } from './geometry';

export interface HeadCell {
  col: number;
  title: string;
  about: string;
  ticks: TickCounts;
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

/** What the ledger shows and where the cursor is. Columns are the book's items in order, and after them the standing. */
@Injectable()
export class LedgerView {
  readonly store = inject(BookStore);
  private readonly outbox = this.store.outbox;

  readonly room = signal({ width: 960, height: 600 });
  readonly scroll = signal({ top: 0, left: 0 });
  readonly cursor = signal({ row: 0, col: 0 });
  readonly asMarked = signal(false);
  readonly section = signal<string | null>(null);

  readonly rows = computed(() => {
    const section = this.section();
    const people = this.store.people();
    const all = this.store.students().map((_, s) => s);
    return section === null ? all : all.filter((s) => people.get(this.store.students()[s]!)?.section === section);
  });
  readonly columns = computed(() => this.store.items().length);
  readonly nameWidth = computed(() => (this.room().width < 600 ? 118 : 171));
  readonly columnWidth = computed(() => columnWidth(this.room().width, this.columns(), this.nameWidth()));
  readonly bodyWidth = computed(() => this.nameWidth() + this.columns() * this.columnWidth() + STANDING);
  readonly bodyHeight = computed(() => HEAD + this.rows().length * ROW);

  private readonly rowSpan = computed(
    () => visible(this.scroll().top, this.room().height - HEAD, ROW, this.rows().length, BEYOND),
    {
      equal: (a, b) => a.first === b.first && a.last === b.last,
    },
  );
  private readonly colSpan = computed(
    () =>
      visible(
        this.scroll().left,
        this.room().width - this.nameWidth() - (this.room().width < 600 ? 0 : STANDING),
        this.columnWidth(),
        this.columns(),
        BEYOND,
      ),
    { equal: (a, b) => a.first === b.first && a.last === b.last },
  );
  readonly before = computed(() => this.colSpan().first * this.columnWidth());
  readonly after = computed(() => (this.columns() - 1 - this.colSpan().last) * this.columnWidth());

  readonly bands = computed(() => {
    const rules = this.store.rules();
    const scale = rules?.scale ? rules.rules?.scales?.[rules.scale] : undefined;
    return (scale?.bands ?? []).map((b) => b.from);
  });

  /** The categories with the columns they stand over. */
  readonly categories = computed(() => {
    const tree = this.store.rules()?.tree;
    const items = this.store.items();
    const assessments = this.store.assessments();
    if (!tree) return [];
    const groups: { title: string; group: Group | undefined; from: number; count: number }[] = [];
    items.forEach((id, col) => {
      const category = assessments.get(id)?.category ?? '';
      const group = tree.children.find(
        (g): g is Group => g.type === 'group' && (g.id === category || holds(g, category)),
      );
      const title = group ? titleOf(group) : 'Without category';
      const last = groups[groups.length - 1];
      if (last && last.title === title) last.count++;
      else groups.push({ title, group, from: col, count: 1 });
    });
    return groups.map(({ group, ...g }) => ({
      ...g,
      about: group ? aboutOf(group, tree, this.hurdle(group.id), g.count === 1) : '',
    }));
  });

  readonly heads = computed((): HeadCell[] => {
    this.store.revision();
    const { first, last } = this.colSpan();
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return range(first, last).map((col) => {
      const a = this.store.assessments().get(this.store.items()[col]!);
      const about = a ? `${a.points}${a.due ? `\u2009·\u2009${day(a.due, zone)}` : ''}` : '';
      return { col, title: a?.title ?? '', about, ticks: this.ticks(col) };
    });
  });

  readonly body = computed((): RowView[] => {
    this.store.revision();
    const cells = this.store.cells();
    if (!cells) return [];
    const rows = this.rows();
    const students = this.store.students();
    const items = this.store.items();
    const people = this.store.people();
    const sections = this.store.sections();
    const many = sections.size > 1;
    const troubles = this.outbox.troubles();
    const unkept = this.outbox.line() === 'up' ? null : this.outbox.unkept();
    const zone = this.store.page()?.timeZone ?? 'UTC';
    const named = (at: number): string => day(at, zone);
    const { rowSlots, colSlots } = this.slots();
    const width = this.columnWidth();
    const { first, last } = this.colSpan();
    const columns = inSlots(range(first, last), (c) => c % colSlots);
    const visibleRows = inSlots(range(this.rowSpan().first, this.rowSpan().last), (r) => r % rowSlots);
    // Rows that nothing has touched since are taken as they are.
    const common = [cells, rows, people, this.colSpan(), this.asMarked(), troubles, unkept, rowSlots, colSlots, width];
    if (common.some((c, i) => c !== this.drawnFor[i])) this.drawn.clear();
    this.drawnFor = common;
    const before = new Map(this.drawn);
    this.drawn.clear();
    return visibleRows.map((row) => {
      const s = rows[row]!;
      const stamp = this.store.stampOf(s);
      const known = before.get(row);
      if (known?.stamp === stamp && known.standing === this.store.standings()[s]) {
        this.drawn.set(row, known);
        return known;
      }
      const person = people.get(students[s]!);
      const view: RowView = {
        row,
        stamp,
        student: s,
        name: person ? (person.given ? `${person.family}, ${person.given}` : person.family) : '',
        section: many && person?.section ? (sections.get(person.section) ?? '') : '',
        look: `row${Math.floor(row / 3) % 2 === 1 ? ' bar' : ''}`,
        slot: row % rowSlots,
        top: HEAD + row * ROW,
        standing: this.store.standings()[s],
        cells: columns.map((col) => {
          const key = cellKey(students[s]!, items[col]!);
          const view = cellView(cells, s * items.length + col, {
            asMarked: this.asMarked(),
            trouble: troubles.get(key)?.kind ?? null,
            unkept: unkept?.has(key) === true,
            day: named,
          });
          const stacked = mustStack(view.text, view.taken, width) ? ' stacked' : '';
          return { ...view, look: `cell ${view.look}${stacked}`, col, slot: col % colSlots };
        }),
      };
      this.drawn.set(row, view);
      return view;
    });
  });
  private readonly drawn = new Map<number, RowView>();
  private drawnFor: unknown[] = [];

  /** How many elements are in use at most: as many as a window with its margins can show. */
  private readonly slots = computed(() => ({
    rowSlots: Math.ceil(Math.max(0, this.room().height - HEAD) / ROW) + 2 + 2 * BEYOND,
    colSlots: Math.ceil(this.room().width / this.columnWidth()) + 2 + 2 * BEYOND,
  }));

  /** The student and item under the cursor; item null on the standing. */
  readonly place = computed(() => {
    const { row, col } = this.cursor();
    const s = this.rows()[row];
    if (s === undefined) return null;
    return { student: this.store.students()[s]!, index: s, item: this.store.items()[col] ?? null };
  });

  private ticks(col: number): TickCounts {
    const cells = this.store.cells();
    const width = this.columns();
    const counts = noTicks();
    if (cells)
      for (const s of this.rows()) {
        const flags = cells.flags[s * width + col]!;
        counts[
          tickOf(STATES[cells.state[s * width + col]!]!, flags & FLAG.released ? 1 : flags & FLAG.changed ? 2 : 0)
        ]++;
      }
    return counts;
  }

  private hurdle(node: string): number | null {
    return this.store.rules()?.hurdles?.find((h) => h.node === node)?.atLeast ?? null;
  }

  /** Moves the cursor, held inside the sheet. */
  move(row: number, col: number): void {
    const clamp = (n: number, most: number): number => Math.max(0, Math.min(most, n));
    this.cursor.set({ row: clamp(row, this.rows().length - 1), col: clamp(col, this.columns()) });
  }

  /** The scroll position that shows the cursor's cell. */
  revealed(): { top: number; left: number } {
    const { row, col } = this.cursor();
    const { width, height } = this.room();
    const top = reveal(this.scroll().top, height - HEAD, row * ROW, ROW);
    if (col >= this.columns()) return { top, left: width < 600 ? this.bodyWidth() - width : this.scroll().left };
    const w = this.columnWidth();
    return {
      top,
      left: reveal(this.scroll().left, width - this.nameWidth() - (width < 600 ? 0 : STANDING), col * w, w),
    };
  }
}

export function range(first: number, last: number): number[] {
  return last < first ? [] : Array.from({ length: last - first + 1 }, (_, i) => first + i);
}

/** In the order of their slots: elements then never move in the document while they stay in use. */
function inSlots(indexes: number[], slot: (index: number) => number): number[] {
  return indexes.sort((a, b) => slot(a) - slot(b));
}

export function titleOf(group: Group): string {
  const info = group.info as { title?: unknown } | undefined;
  return typeof info?.title === 'string' ? info.title : group.id;
}

const holds = (group: Group, id: string): boolean =>
  group.children.some((c) => c.type === 'group' && (c.id === id || holds(c, id)));

/** "30 % · points, lowest dropped" */
function aboutOf(group: Group, tree: Group, hurdle: number | null, narrow: boolean): string {
  const how = { points: 'points', weights: 'weights', equal: 'each alike' }[group.combine];
  const dropped =
    (group.drop?.lowest ?? 0) === 1
      ? ', lowest dropped'
      : (group.drop?.lowest ?? 0) > 1
        ? `, ${group.drop!.lowest} lowest dropped`
        : '';
  const share = tree.combine === 'weights' ? `${group.weight ?? 1} %` : '';
  const parts = [share, narrow && share ? '' : `${how}${dropped}`].filter(Boolean).join(' · ');
  return hurdle === null ? parts : `${parts} ≥ ${hurdle}`;
}
