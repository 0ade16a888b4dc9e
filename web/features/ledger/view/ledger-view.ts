import { unlessClosed } from '../../../worker/sheet-session';
import { cellKey } from '@contract/wire/cell-key';
import { computed, effect, inject, Injectable, linkedSignal, signal, untracked } from '@angular/core';
import { topOf } from '@core/rubric/check-rubric';
import { BookAnnotations } from '../../../data/annotations';
import { BookStore } from '../../../data/book';
import { density } from '../../../ui/layout/appearance';
import { groupTitle } from '../../../ui/text/group-title';
import { BEYOND, columnWidth, headHeight, range, reveal, ROOMY_ROW, ROW, STANDING, visible } from '../grid/geometry';
import { columnsOf, followed, spansOf, topCategory } from '../grid/layout';
import { CriteriaColumns } from './criteria-columns';
import { list, ranks, type Listed } from './listing';
import { ONLY, DEFAULT_VIEW, sound, type ViewSettings } from './view-settings';

export interface Spot {
  row: number;
  col: number;
}

/** What the ledger shows and where the cursor is. Columns are those of the look, and after them the standing. */
@Injectable()
export class LedgerView {
  readonly store = inject(BookStore);
  private readonly annotations = inject(BookAnnotations);
  readonly criteria = inject(CriteriaColumns);

  readonly room = signal({ width: 960, height: 600 });
  readonly scroll = signal({ top: 0, left: 0 });
  /** At the beginning of each book: the page stays when it shows another. */
  readonly cursor = linkedSignal<string, Spot>({ source: this.store.id, computation: () => ({ row: 0, col: 0 }) });
  /** The other corner of the selection; null: the cursor's cell alone. */
  readonly anchor = linkedSignal<string, Spot | null>({ source: this.store.id, computation: () => null });
  private readonly wanted = signal<ViewSettings>(DEFAULT_VIEW);
  /** Chosen once more: rows are chosen and ordered anew. */
  private readonly again = signal(0);

  readonly settings = computed((): ViewSettings =>
    this.store.items().length === 0
      ? this.wanted()
      : sound(this.wanted(), {
          sections: [...this.store.sections().keys()],
          groups: this.annotations.groups().map((g) => g.id),
          items: this.store.items(),
          categories: this.store.categories().map((c) => c.id),
          bands: this.scale().map((b) => b.label),
        }),
  );
  readonly asMarked = computed(() => this.settings().asMarked);
  /** By this view, or by the person for all of them. */
  readonly roomy = computed(() => this.settings().roomy || density() === 'roomy');
  readonly rowHeight = computed(() => (this.roomy() ? ROOMY_ROW : ROW));

  readonly scale = computed(() => {
    const rules = this.store.rules();
    return (rules?.scale ? rules.rules?.scales?.[rules.scale]?.bands : undefined) ?? [];
  });
  readonly bands = computed(() => this.scale().map((b) => b.from));

  /** By itself, so that a standing that changes chooses no rows anew. */
  private readonly worked = computed(() => this.store.standings().length > 0);

  /** Rows are chosen when a look is chosen, not while cells change: what one types at does not go away. */
  private readonly listing = computed(() => {
    const look = this.settings();
    this.store.loaded();
    this.again();
    const worked = this.worked();
    const group = this.annotations.groups().find((g) => g.id === look.group);
    const fromNotes = look.only === 'note' || look.only === 'news';
    if (fromNotes) this.annotations.notes();
    return untracked(() => list(look, this.listed(look, group ? new Set(group.members) : null, worked)));
  });
  readonly rows = computed(() => this.listing().rows);

  private listed(look: ViewSettings, members: ReadonlySet<string> | null, worked: boolean): Listed {
    const people = this.store.people();
    const students = this.store.students();
    const remarks = this.annotations.notes();
    const changed = this.annotations.changed();
    return {
      students,
      items: this.store.items(),
      cells: this.store.cells(),
      standings: worked ? this.store.standings() : [],
      members,
      below: look.below === null ? null : (this.scale().find((b) => b.label === look.below)?.from ?? null),
      name: (s) => people.get(students[s]!) ?? { family: '', given: '', number: '', section: null },
      noted: (student, place) => {
        const r = remarks.get(cellKey(student, place));
        return r !== undefined && (r.note !== null || r.secondLookBy !== null);
      },
      isNews: (student, item) => changed.has(cellKey(student, item)),
    };
  }

  /** What is hidden, part by part, with how many: "9 of other sections". */
  readonly hidden = computed(() => {
    const look = this.settings();
    const message: Record<string, string> = {
      section: 'of other sections',
      group: 'outside the group',
      find: 'of other names',
      below: `at ${look.below} or above, or without a standing`,
      only: `without ${ONLY.find((o) => o.id === look.only)?.label ?? ''}`,
    };
    return this.listing().hides.map((h) => `${h.count} ${message[h.what]}`);
  });

  private readonly categoryOf = computed(() => {
    const tree = this.store.rules()?.tree;
    const assessments = this.store.assessments();
    return (item: string): string => (tree ? topCategory(tree, assessments.get(item)?.category ?? '') : '');
  });
  readonly layout = computed(() =>
    columnsOf(this.settings(), this.store.items(), this.categoryOf(), (id) => this.criteria.of(id)),
  );
  readonly columns = computed(() => this.layout().length);
  readonly spans = computed(() => spansOf(this.layout()));
  readonly ranks = computed(() => (this.settings().rank ? ranks(this.store.standings()) : null));

  readonly nameWidth = computed(() => (this.room().width < 600 ? 118 : 171));
  readonly columnWidth = computed(() => columnWidth(this.room().width, this.columns(), this.nameWidth()));
  readonly bodyWidth = computed(() => this.nameWidth() + this.columns() * this.columnWidth() + STANDING);
  /** What stays in sight however far the sheet is scrolled to the side. */
  readonly stillWidth = computed(() => Math.min(this.room().width, this.bodyWidth()));
  readonly headHeight = computed(() => headHeight(this.room().height));
  readonly bodyHeight = computed(() => this.headHeight() + this.rows().length * this.rowHeight());
  private readonly besideScroll = computed(() => (this.room().width < 600 ? 0 : STANDING));

  readonly rowSpan = computed(
    () =>
      visible(this.scroll().top, this.room().height - this.headHeight(), this.rowHeight(), this.rows().length, BEYOND),
    { equal: (a, b) => a.first === b.first && a.last === b.last },
  );
  readonly colSpan = computed(
    () =>
      visible(
        this.scroll().left,
        this.room().width - this.nameWidth() - this.besideScroll(),
        this.columnWidth(),
        this.columns(),
        BEYOND,
      ),
    { equal: (a, b) => a.first === b.first && a.last === b.last },
  );
  readonly before = computed(() => this.colSpan().first * this.columnWidth());

  /** What each student has of the folded categories, in percent. */
  readonly totals = signal<ReadonlyMap<string, Float64Array>>(new Map());

  /** The student and assessment under the cursor; item null on a total or the standing. */
  readonly place = computed(() => {
    const { row, col } = this.cursor();
    const s = this.rows()[row];
    if (s === undefined) return null;
    return { student: this.store.students()[s]!, index: s, item: this.itemAt(col) };
  });

  /** The selection with both corners inside. */
  readonly selection = computed(() => {
    const a = this.cursor();
    const b = this.anchor() ?? a;
    return {
      top: Math.min(a.row, b.row),
      bottom: Math.max(a.row, b.row),
      left: Math.min(a.col, b.col),
      right: Math.max(a.col, b.col),
    };
  });
  readonly selected = computed(() => {
    const { top, bottom, left, right } = this.selection();
    return (bottom - top + 1) * (right - left + 1);
  });

  constructor() {
    effect(() => this.criteria.shown.set(this.settings().criteria.filter((item) => !this.store.hidden().has(item))));
    this.criteria.around = (put) => this.keepPlace(put);
    effect((onCleanup) => {
      const folded = this.settings().folded;
      this.store.revision();
      if (folded.length === 0 || !this.store.cells()) return;
      const timer = setTimeout(() => void this.fetchTotals(folded).catch(unlessClosed), 60);
      onCleanup(() => clearTimeout(timer));
    });
  }

  private async fetchTotals(folded: string[]): Promise<void> {
    const all = await Promise.all(folded.map((g) => this.store.worker().totals(g)));
    this.totals.set(new Map(folded.map((g, i) => [g, all[i]!])));
  }

  /** The assessment of a column that can be typed into; null: a criterion, a total, the standing. */
  itemAt(col: number): string | null {
    const c = this.layout()[col];
    return c?.kind === 'item' ? c.id : null;
  }

  /** The assessments of the columns that are selected. */
  selectedItems(): string[] {
    const { left, right } = this.selection();
    return range(left, right).flatMap((col) => this.itemAt(col) ?? []);
  }

  /** The assessment's place in the columns, or −1 where it is hidden. */
  colOf(item: string): number {
    return this.layout().findIndex((c) => c.kind === 'item' && c.id === item);
  }

  titleOf(category: string): string {
    const group = this.store.categories().find((c) => c.id === category);
    return group ? groupTitle(group) : 'Without category';
  }

  /** "Soil pit: Depth (of 4)" */
  criterionTitle({ of, criterion }: { of: string; criterion: string }): string {
    const c = this.criteria.criterion(of, criterion);
    return `${this.store.assessments().get(of)?.title ?? ''}: ${c?.title ?? ''} (of ${c ? topOf(c) : ''})`;
  }

  /** Another look; the cursor stays with its student and assessment where they are still shown. */
  change(part: Partial<ViewSettings>): void {
    const place = this.place();
    this.wanted.set({ ...this.settings(), ...part });
    this.again.update((n) => n + 1);
    if (!place) return this.move(0, 0);
    const row = this.rows().indexOf(place.index);
    const col = place.item === null ? this.cursor().col : this.colOf(place.item);
    this.move(Math.max(0, row), Math.max(0, col));
  }

  /** Columns come or go: the cursor and the selection stay with theirs. */
  private keepPlace(put: () => void): void {
    const before = this.layout();
    put();
    const now = this.layout();
    if (now === before) return;
    const moved = (at: Spot): Spot => ({ row: at.row, col: followed(before, now, at.col) });
    const anchor = this.anchor();
    this.cursor.set(moved(this.cursor()));
    if (anchor) this.anchor.set(moved(anchor));
  }

  /** The look of an address, before the book is known. */
  begin(look: ViewSettings): void {
    this.wanted.set(look);
  }

  /** Moves the cursor, held inside the sheet; `extend` keeps the other corner of the selection where it is. */
  move(row: number, col: number, extend = false): void {
    const clamp = (n: number, most: number): number => Math.max(0, Math.min(most, n));
    const from = this.anchor() ?? this.cursor();
    this.anchor.set(extend ? from : null);
    const most = extend ? Math.max(0, this.columns() - 1) : this.columns();
    this.cursor.set({ row: clamp(row, this.rows().length - 1), col: clamp(col, most) });
  }

  /** The whole row of the cursor, or its whole column. */
  selectLine(column: boolean): void {
    const { row, col } = this.cursor();
    if (column) return this.selectColumns(col, col);
    this.anchor.set({ row, col: 0 });
    this.cursor.set({ row, col: this.columns() - 1 });
  }

  /** Whole columns, from one to the other; the cursor is at the head of the second. */
  selectColumns(from: number, to: number): void {
    if (this.rows().length === 0) return;
    this.anchor.set({ row: this.rows().length - 1, col: from });
    this.cursor.set({ row: 0, col: to });
  }

  /** The cells of the selection that can be typed into, row by row. */
  cells(): { row: number; col: number; s: number; student: string; item: string }[] {
    const { top, bottom, left, right } = this.selection();
    return range(top, bottom).flatMap((row) =>
      range(left, right).flatMap((col) => {
        const s = this.rows()[row];
        const item = this.itemAt(col);
        return s === undefined || item === null ? [] : [{ row, col, s, student: this.store.students()[s]!, item }];
      }),
    );
  }

  /** The scroll position that shows the cursor's cell. */
  revealed(): { top: number; left: number } {
    const { row, col } = this.cursor();
    const { width, height } = this.room();
    const each = this.rowHeight();
    // By half a sheet, which then lies still: one sees whom one comes to, and not everything moves at every entry.
    const ahead = each * Math.floor((height - this.headHeight()) / each / 2);
    const end = this.rows().length * each;
    const top = reveal(this.scroll().top, height - this.headHeight(), row * each, each, { ahead, end });
    if (col >= this.columns()) return { top, left: width < 600 ? this.bodyWidth() - width : this.scroll().left };
    const w = this.columnWidth();
    return { top, left: reveal(this.scroll().left, width - this.nameWidth() - this.besideScroll(), col * w, w) };
  }
}
