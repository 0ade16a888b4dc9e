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
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { ActivatedRoute, Router } from '@angular/router';
import type { CellChange, EntryContent } from '@core/book/change';
import { BookStore } from '../state/book';
import { Foot } from '../state/foot';
import { TickRail } from '../ui/tick-rail';
import { CellEditor, type CellTarget, type Step } from './cell-editor';
import { LedgerSlip } from './ledger-slip';
import { LedgerBody } from './ledger-body';
import { LedgerView } from './ledger-view';
import { FLAG, STATES } from '../workers/protocol';
import { HEAD, ROW, STANDING } from './geometry';

/** The book's sheet: students by assessments, typed into, with the standing at the right and the working beside it. */
@Component({
  selector: 'lt-ledger',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TickRail, CellEditor, LedgerBody, LedgerSlip],
  providers: [LedgerView],
  templateUrl: './ledger.html',
  styleUrl: './ledger.css',
  host: { role: 'main' },
})
export class LedgerPage {
  protected readonly store = inject(BookStore);
  protected readonly view = inject(LedgerView);
  private readonly foot = inject(Foot);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  private readonly changes = inject(ChangeDetectorRef);
  private readonly destroyed = inject(DestroyRef);
  private readonly grid = viewChild.required<ElementRef<HTMLElement>>('grid');
  private readonly editor = viewChild(CellEditor);

  protected readonly slip = signal(innerWidth >= 900);
  protected readonly editing = signal<CellTarget | null>(null);
  protected readonly sections = computed(() => this.store.page()?.sections ?? []);
  protected readonly sectionWord = computed(
    () => this.sections().find((s) => s.id === this.view.section())?.title ?? 'all sections',
  );
  protected readonly active = computed(() =>
    this.store.cells() ? `cell-${this.view.cursor().row}-${this.view.cursor().col}` : null,
  );
  protected readonly upward = computed(
    () => this.view.cursor().row * ROW - this.view.scroll().top > this.view.room().height - HEAD - 190,
  );
  protected readonly cursorLeft = computed(
    () => this.view.nameWidth() + this.view.cursor().col * this.view.columnWidth(),
  );
  protected readonly cursorWidth = computed(() =>
    this.view.cursor().col === this.view.columns() ? STANDING : this.view.columnWidth(),
  );

  constructor() {
    this.foot.keys.set([
      { key: 'type', does: 'score, or ex… mi…' },
      { key: '/', does: 'late, due …' },
      { key: 'Backspace', does: 'take it away' },
      { key: 'Alt+M', does: 'as marked' },
    ]);
    afterNextRender(() => this.watchGrid());
    effect(() => this.tellKept());
    effect(() => {
      const wanted = this.route.snapshot.queryParamMap.get('assessment');
      const col = wanted ? this.store.items().indexOf(wanted) : -1;
      if (col >= 0) untracked(() => this.goTo(this.view.cursor().row, col));
    });
    this.destroyed.onDestroy(() => this.foot.keys.set([]));
  }

  private watchGrid(): void {
    const grid = this.grid().nativeElement;
    const measure = (): void => this.view.room.set({ width: grid.clientWidth, height: grid.clientHeight });
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(grid);
    // The rows are drawn in a task of their own after the event: in one with the frame it would be a long one.
    let waiting = false;
    const scrolled = (): void => {
      waiting = false;
      this.view.scroll.set({ top: grid.scrollTop, left: grid.scrollLeft });
      this.changes.detectChanges();
    };
    const channel = new MessageChannel();
    channel.port1.onmessage = scrolled;
    const onScroll = (): void => {
      if (waiting) return;
      waiting = true;
      channel.port2.postMessage(0);
    };
    grid.addEventListener('scroll', onScroll, { passive: true });
    // A scroll of the last moment must not draw a page that is gone.
    this.destroyed.onDestroy(() => {
      observer.disconnect();
      channel.port1.close();
    });
    grid.focus({ preventScroll: true });
  }

  /** The foot: what was kept last and what stands in the cell. */
  private tellKept(): void {
    const at = this.store.keptAt();
    const line = this.store.outbox.line();
    const place = this.view.place();
    this.store.revision();
    if (line !== 'up' || !this.store.cells()) return;
    const title = place?.item ? (this.store.assessments().get(place.item)?.title ?? '') : 'Standing';
    const person = place ? this.store.people().get(place.student) : undefined;
    const here = person ? `${person.family}${person.given ? `, ${person.given}` : ''}, ${title}` : '';
    const cell = place?.item
      ? this.view
          .body()
          .find((r) => r.student === place.index)
          ?.cells.find((c) => c.col === this.view.cursor().col)
      : undefined;
    const word = cell && cell.words !== 'empty' ? `: ${cell.words}` : '';
    untracked(() => this.foot.tell(`${at ? `Kept ${at} · ` : ''}${here}${word}`));
  }

  protected readonly editorLabel = computed(() => {
    const place = this.view.place();
    const person = place ? this.store.people().get(place.student) : undefined;
    const title = place?.item ? this.store.assessments().get(place.item)?.title : '';
    return `${person?.family ?? ''}, ${person?.given ?? ''}, ${title ?? ''}`;
  });

  protected goTo(row: number, col: number): void {
    this.view.move(row, col);
    const to = this.view.revealed();
    const now = this.view.scroll();
    if (to.top === now.top && to.left === now.left) return;
    // Set at once, not by the scroll event, so that the active cell is there when it is named.
    this.view.scroll.set(to);
    this.grid().nativeElement.scrollTo(to);
  }

  protected key(event: KeyboardEvent): void {
    if (this.editing() || (event.target as HTMLElement).closest('lt-cell-editor')) return;
    const { row, col } = this.view.cursor();
    const page = Math.max(1, Math.floor((this.view.room().height - HEAD) / ROW) - 1);
    const moves: Record<string, [number, number]> = {
      ArrowDown: [row + 1, col],
      ArrowUp: [row - 1, col],
      ArrowRight: [row, col + 1],
      ArrowLeft: [row, col - 1],
      PageDown: [row + page, col],
      PageUp: [row - page, col],
      Home: event.ctrlKey ? [0, 0] : [row, 0],
      End: event.ctrlKey ? [this.view.rows().length - 1, this.view.columns()] : [row, this.view.columns()],
    };
    const move = moves[event.key];
    if (move && !event.altKey && !event.metaKey) this.goTo(...move);
    else if (event.altKey && event.key.toLowerCase() === 'm') this.turn();
    else if (event.ctrlKey || event.metaKey || event.altKey) return;
    else if (event.key === 'Enter' || event.key === 'F2') void this.edit(null);
    else if (event.key === 'Backspace' || event.key === 'Delete') this.takeAway();
    else if (event.key.length === 1 && event.key !== ' ') void this.edit(event.key);
    else return;
    event.preventDefault();
  }

  /** One value pasted goes into the cell; a block of them belongs on the intake page. */
  protected pasted(event: ClipboardEvent): void {
    if (this.editing()) return;
    const text = event.clipboardData?.getData('text/plain').trim() ?? '';
    event.preventDefault();
    if (text === '') return;
    if (/[\t\n]/.test(text))
      this.foot.tell(
        'More than one value: paste them on the Intake page, where you see what each row becomes first.',
        'trouble',
      );
    else void this.edit(text);
  }

  protected press(event: MouseEvent): void {
    const cell = (event.target as HTMLElement).closest('[role=gridcell]');
    const row = cell?.closest('[role=row]');
    if (!cell || !row) return;
    if (this.editing() && !this.editor()?.leave()) return event.preventDefault();
    // Counted from 1, after two rows of heads and the column of names.
    this.goTo(Number(row.getAttribute('aria-rowindex')) - 3, Number(cell.getAttribute('aria-colindex')) - 2);
  }

  protected pressTwice(event: MouseEvent): void {
    if ((event.target as HTMLElement).closest('[role=gridcell], .cursor')) void this.edit(null);
  }

  protected turn(): void {
    this.view.asMarked.update((m) => !m);
    this.grid().nativeElement.focus({ preventScroll: true });
    this.foot.tell(
      this.view.asMarked()
        ? 'Shown as marked: before lateness and caps.'
        : 'Shown as it counts: after lateness and caps.',
    );
  }

  protected nextSection(): void {
    const ids = [null, ...this.sections().map((s) => s.id)];
    this.view.section.update((now) => ids[(ids.indexOf(now) + 1) % ids.length]!);
    this.goTo(0, this.view.cursor().col);
  }

  /** Opens the line over the cell. The content comes from what is on the page, so that no key is lost while waiting. */
  private async edit(first: string | null): Promise<void> {
    const place = this.view.place();
    if (!place?.item) return;
    if (!this.store.mayScore()) return this.foot.tell('The office reads this book and does not change it.', 'trouble');
    const assessment = this.store.assessments().get(place.item)!;
    const target = {
      student: place.student,
      item: place.item,
      points: assessment.points,
      marks: assessment.marks,
      due: assessment.due,
    };
    this.editing.set({ ...target, content: this.roughContent(place.index) });
    const open = this.editing();
    // At once, not at the next frame: the second key must already find the line.
    this.changes.detectChanges();
    this.editor()!.begin(first);
    // A figure takes the place of whatever is there; anything else needs to know all of it.
    if (first !== null && /^[\d.,]/.test(first) && assessment.marks.length === 0) return;
    const content = await this.store.worker().content(place.student, place.item);
    if (this.editing() !== open) return;
    this.editing.set({ ...target, content });
    this.changes.detectChanges();
    this.editor()!.refresh();
  }

  /** What the columns tell of a cell: all that a figure typed over it is compared with. */
  private roughContent(s: number): EntryContent {
    const cells = this.store.cells()!;
    const at = this.store.at(s, this.view.cursor().col);
    const state = STATES[cells.state[at]!]!;
    const byHand = state === 'missing' && (cells.flags[at]! & FLAG.byHand) !== 0;
    if (state === 'excused' || state === 'awaiting' || byHand) return { state };
    const marked = cells.marked[at]! / 10_000;
    if (Number.isNaN(marked)) return {};
    return state === 'set' ? { set: marked } : { attempts: [{ score: marked }] };
  }

  protected enter({ change, typed, step }: { change: CellChange; typed: string; step: Step }): void {
    const target = this.editing();
    this.close(step);
    if (target) void this.store.change(target.student, target.item, change, typed);
  }

  protected close(step: Step): void {
    this.editing.set(null);
    const { row, col } = this.view.cursor();
    const to: Record<Step, [number, number]> = {
      stay: [row, col],
      down: [row + 1, col],
      up: [row - 1, col],
      right: [row, col + 1],
      left: [row, col - 1],
    };
    this.goTo(...to[step]);
    this.grid().nativeElement.focus({ preventScroll: true });
  }

  private takeAway(): void {
    const place = this.view.place();
    if (!place?.item) return;
    if (!this.store.mayScore()) return this.foot.tell('The office reads this book and does not change it.', 'trouble');
    void this.store.change(place.student, place.item, { kind: 'clear' }, '');
  }

  /** A word of the slip: the same action as typing it. */
  protected startAction(text: string): void {
    void this.edit(text);
  }

  protected goRelease(): void {
    const item = this.view.place()?.item;
    this.close('stay');
    void this.router.navigate(['/book', this.store.id(), 'release'], { queryParams: { assessment: item } });
  }
}
