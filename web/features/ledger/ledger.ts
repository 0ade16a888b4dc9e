import {
  afterNextRender,
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  viewChild,
} from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { InputText } from 'primeng/inputtext';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { CommandPalette } from '../../ui/layout/command-palette';
import { Live } from '../../data/live/live';
import { TickRail } from '../../ui/chart/tick-rail';
import { CellEditor } from './editor/cell-editor';
import type { Step } from './editor/cell-target';
import { LedgerLine } from './editor/ledger-line';
import { LedgerActs } from './acts/ledger-acts';
import { LedgerFile } from './acts/ledger-file';
import { LedgerAddress } from './view/ledger-address';
import { LedgerBody } from './grid/ledger-body';
import { LedgerBoxes } from './view/ledger-boxes';
import { LEDGER_KEYS, spotAfter, stepOf } from './editor/ledger-keys';
import { GridPointer, headOf } from './grid/grid-pointer';
import { LedgerRows } from './grid/ledger-rows';
import { CellInspector } from './inspector/cell-inspector';
import { watchGrid } from './grid/ledger-scroll';
import { LedgerAnnouncements } from './ledger-announcements';
import { NewColumn } from './editor/new-column';
import { LedgerTop } from './view/ledger-top';
import { CellTexts } from './clipboard/cell-texts';
import { LedgerCopying } from './clipboard/copying';
import { GridClipboard } from './clipboard/grid-clipboard';
import { CriteriaColumns } from './view/criteria-columns';
import { LedgerView } from './view/ledger-view';
import { PastePreview } from './clipboard/paste-preview';
import { ReleaseDialog } from '../../release/release-dialog';
import { WithdrawDialog } from '../../release/withdraw-dialog';
import { LedgerGoals } from './acts/ledger-goals';
import { LedgerReleases } from './acts/ledger-releases';
import { isGoal, SLASH_WORDS } from './editor/slash-words';
import { ActPreviews } from './acts/act-preview';
import { BookActs } from './acts/book-acts';

/** The book's sheet: students by assessments, typed into, with the standing at the right and the working beside it. */
@Component({
  selector: 'lt-ledger',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Counted,
    InputText,
    TickRail,
    CellEditor,
    LedgerBody,
    CellInspector,
    LedgerTop,
    PastePreview,
    NewColumn,
    ReleaseDialog,
    WithdrawDialog,
  ],
  providers: [
    CriteriaColumns,
    LedgerView,
    LedgerRows,
    CellTexts,
    LedgerCopying,
    GridClipboard,
    LedgerActs,
    LedgerFile,
    LedgerReleases,
    LedgerGoals,
    BookActs,
    LedgerLine,
    ActPreviews,
    LedgerBoxes,
    LedgerAnnouncements,
    LedgerAddress,
  ],
  templateUrl: './ledger.html',
  styleUrls: ['./ledger-head.css', './ledger.css'],
  host: { role: 'main', '(document:copy)': 'clipboard.copied($event)', '(document:cut)': 'clipboard.copied($event)' },
})
export class LedgerPage {
  protected readonly store = inject(BookStore);
  protected readonly view = inject(LedgerView);
  protected readonly rows = inject(LedgerRows);
  protected readonly acts = inject(LedgerActs);
  protected readonly clipboard = inject(GridClipboard);
  protected readonly goals = inject(LedgerGoals);
  protected readonly releases = inject(LedgerReleases);
  protected readonly line = inject(LedgerLine);
  protected readonly previews = inject(ActPreviews);
  protected readonly boxes = inject(LedgerBoxes);
  private readonly live = inject(Live);
  private readonly statusBar = inject(StatusBar);
  private readonly palette = inject(CommandPalette);
  private readonly announcements = inject(LedgerAnnouncements);
  private readonly address = inject(LedgerAddress);
  private readonly changes = inject(ChangeDetectorRef);
  private readonly destroyed = inject(DestroyRef);
  private readonly grid = viewChild.required<ElementRef<HTMLElement>>('grid');
  private readonly find = viewChild<ElementRef<HTMLInputElement>>('find');
  private readonly editor = viewChild(CellEditor);
  private readonly inspector = viewChild(CellInspector);

  /** The category under the cursor. */
  protected readonly hereCategory = computed(() => {
    const item = this.view.place()?.item ?? null;
    return item === null ? null : (this.store.assessments().get(item)?.category ?? null);
  });
  private readonly pointer = new GridPointer();
  protected readonly active = computed(() =>
    this.store.cells() ? `cell-${this.view.cursor().row}-${this.view.cursor().col}` : null,
  );
  protected readonly peopleHere = computed(() => [...new Set(this.live.people().map((p) => p.name))].join(', '));

  constructor() {
    this.statusBar.keys.set(LEDGER_KEYS.slice(0, 4));
    this.statusBar.sheet.set([{ title: 'The ledger', keys: LEDGER_KEYS }]);
    // The words of the cells, for the one line that does anything.
    this.palette.actions.set(
      SLASH_WORDS.map((w) => ({ id: w.word, label: w.label, key: `/${w.word}`, run: () => this.startWord(w.word) })),
    );
    afterNextRender(() => {
      watchGrid(this.grid().nativeElement, this.view, this.destroyed, () => this.changes.detectChanges());
      this.focusGrid();
    });
    this.line.begin({
      editor: () => this.editor(),
      detect: () => this.changes.detectChanges(),
      close: (step, keeps) => this.close(step, keeps),
      goTo: (row, col, extend) => this.goTo(row, col, extend),
    });
    this.clipboard.begin(() => this.grid().nativeElement);
    this.goals.begin({
      stay: () => this.close('stay', true),
      focus: () => this.focusGrid(),
      detect: () => this.changes.detectChanges(),
      writeNote: () => this.inspector()?.writeNote(),
    });
    this.announcements.begin();
    this.address.begin((row, col) => {
      this.goTo(row, col);
      // Whoever jumped here goes on with the keys of the grid.
      this.takeKeys();
    });
    effect(() => {
      const place = this.view.place();
      this.live.at(place?.student ?? null, place?.item ?? null);
    });
    this.destroyed.onDestroy(() => this.palette.actions.set([]));
  }

  private focusGrid(): void {
    this.grid().nativeElement.focus({ preventScroll: true });
  }

  protected goTo(row: number, col: number, extend = false): void {
    this.view.move(row, col, extend);
    const to = this.view.revealed();
    const now = this.view.scroll();
    if (to.top === now.top && to.left === now.left) return;
    // Set at once, not by the scroll event, so that the active cell is there when it is named.
    this.view.scroll.set(to);
    this.grid().nativeElement.scrollTo(to);
  }

  protected key(event: KeyboardEvent): void {
    if (this.line.editing() || (event.target as HTMLElement) !== this.grid().nativeElement) return;
    // What is asked over the sheet is about to have the keys.
    if (this.acts.preview() || this.goals.making()) return event.preventDefault();
    const page = Math.max(
      1,
      Math.floor((this.view.room().height - this.view.headHeight()) / this.view.rowHeight()) - 1,
    );
    const to = stepOf(event, this.view.cursor(), { rows: this.view.rows().length, columns: this.view.columns(), page });
    const control = event.ctrlKey || event.metaKey;
    const letter = event.key.toLowerCase();
    if (to) this.goTo(to.row, to.col, event.shiftKey);
    else if (event.key === ' ' && (event.shiftKey || control)) this.view.selectLine(control);
    else if (event.altKey && letter === 'm') this.goals.turn();
    else if (event.altKey && letter === 'n') this.find()?.nativeElement.focus();
    else if (event.altKey && letter === 'r') this.goals.go('rules');
    else if (control && letter === 'z') void this.acts.step(event.shiftKey ? 'redo' : 'undo');
    else if (control && letter === 'y') void this.acts.step('redo');
    else if (control || event.altKey) return;
    else if (event.key === '?') return;
    else if (event.key === 'Escape') this.view.anchor.set(null);
    else if (event.key === 'Enter' || event.key === 'F2') void this.line.edit(null);
    else if (event.key === 'Backspace' || event.key === 'Delete') void this.acts.clear();
    else if (event.key.length === 1 && event.key !== ' ') void this.line.edit(event.key);
    else return;
    event.preventDefault();
  }

  protected press(event: MouseEvent): void {
    const spot = this.pointer.press(event);
    const head = headOf(event);
    if (!spot && head === null) return;
    if (this.line.editing() && !this.editor()?.leave()) {
      this.pointer.release();
      return event.preventDefault();
    }
    if (spot) this.goTo(spot.row, spot.col, event.shiftKey);
    else this.view.selectColumns(event.shiftKey ? (this.view.anchor() ?? this.view.cursor()).col : head!, head!);
    this.focusGrid();
    event.preventDefault();
  }

  protected drag(event: MouseEvent): void {
    const spot = this.pointer.drag(event, this.view.cursor());
    if (spot) this.goTo(spot.row, spot.col, true);
  }

  protected pressTwice(event: MouseEvent): void {
    if ((event.target as HTMLElement).closest('[role=gridcell], .cursor')) void this.line.edit(null);
  }

  protected typedName(event: Event): void {
    this.view.change({ find: (event.target as HTMLInputElement).value });
  }

  /** Enter goes from the name to the student's row; Esc shows everybody again. */
  protected nameKey(event: KeyboardEvent): void {
    if (event.key === 'Escape') this.view.change({ find: '' });
    else if (event.key !== 'Enter' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    this.goTo(0, this.view.cursor().col);
    this.focusGrid();
  }

  /** The keys go to the grid again, once what was open has let go of them. */
  protected toGrid(): void {
    setTimeout(() => this.focusGrid());
  }

  /** Takes the keys where nothing else has them: a dialog that opened late takes them with it when it goes. */
  protected takeKeys(): void {
    const take = (): void => {
      if (document.activeElement === document.body) this.focusGrid();
    };
    take();
    // A dialog that is going may hold them until it is gone.
    requestAnimationFrame(take);
  }

  protected async leaveAsOf(): Promise<void> {
    await this.store.showStood(null);
    this.focusGrid();
  }

  protected sortBy(item: string | null): void {
    if (item === null) return;
    const { by, down } = this.view.settings().sort;
    this.view.change({ sort: by === item && down ? { by: item, down: false } : { by: item, down: true } });
  }

  protected close(step: Step, keepSelection = false): void {
    this.line.editing.set(null);
    this.previews.consider('', null);
    const to = spotAfter(step, this.view.cursor());
    if (step !== 'stay' || !keepSelection) this.goTo(to.row, to.col);
    this.focusGrid();
  }

  /** An action word from elsewhere: it leads away, or waits in the line for what belongs behind it. */
  private startWord(word: string): void {
    if (isGoal(word)) this.goals.go(word);
    else void this.line.edit(`/${word} `);
  }

  /** A word of the inspector: the same action as typing it. */
  protected startAction(text: string): void {
    void this.line.edit(text);
  }

  /** The new column is where the cursor is, so that its first score can be typed. */
  protected wasMade({ id, title }: { id: string; title: string }): void {
    this.goals.making.set(false);
    const col = this.view.colOf(id);
    if (col >= 0) this.goTo(this.view.cursor().row, col);
    // After the place that the cursor has come to is said.
    setTimeout(() => this.statusBar.announce(`${title} is made.`));
  }
}
