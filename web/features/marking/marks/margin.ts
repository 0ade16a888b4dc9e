import {
  afterNextRender,
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
  viewChildren,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { comparePlaces, INKS, type Ink, type WorkMark } from '@core/marks/work-mark';
import { MarkOutbox } from '../../../data/work/outbox/mark-outbox';
import { WorkMarks } from '../../../data/work/work-marks';
import type { BoardMark } from '../../../viewer/marks/board-mark';
import type { MarkTool } from '../../../viewer/marks/mark-board';
import { bareKeys } from '../../../ui/layout/appearance';
import { StatusBar } from '../../../ui/layout/status-bar';
import { Counted, Form } from '../../../ui/text/counted';
import type { WorkView } from '../work-view';
import { MarginNote } from './margin-note';
import { stackNotes } from '../../../viewer/marks/stack-notes';

/** The margin beside the work: what is said of it stands next to its line; and what one marks with. For one piece of work. */
@Component({
  selector: 'lt-margin',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, Form, MarginNote],
  templateUrl: './margin.html',
  styleUrl: './margin.css',
  host: { role: 'group', 'aria-label': 'Margin', '(wheel)': 'view().scrollBy($event.deltaY)' },
})
export class Margin {
  readonly view = input.required<WorkView>();
  readonly student = input.required<string>();
  /** The margin was left: the room's keys are on again. */
  readonly left = output();
  protected readonly marks = inject(WorkMarks);
  private readonly statusBar = inject(StatusBar);
  protected readonly INKS = INKS;
  protected readonly TOOLS: { tool: MarkTool; text: string; key: string }[] = [
    { tool: 'note', text: 'note', key: 'M' },
    { tool: 'text', text: 'text', key: 'T' },
    { tool: 'highlight', text: 'area', key: 'H' },
    { tool: 'pen', text: 'pen', key: 'P' },
  ];
  protected readonly keys = bareKeys;
  protected readonly board = computed(() => this.view().board);
  private readonly rows = viewChildren<ElementRef<HTMLElement>>('row');
  private readonly heights = signal<ReadonlyMap<string, number>>(new Map());

  /** What says something, and what is chosen. */
  protected readonly notes = computed(() =>
    this.board()
      .marks()
      .filter(({ id, mark }) => {
        if (mark.kind === 'text') return this.board().chosen() === id && !this.board().writing();
        return mark.comment !== '' || mark.wording || mark.kind === 'note' || this.board().chosen() === id;
      }),
  );
  private readonly tops = computed(() =>
    stackNotes(
      this.notes().flatMap((m) => {
        const top = this.view().tops().get(m.id);
        return top === undefined ? [] : [{ id: m.id, top, height: this.heights().get(m.id) ?? 24 }];
      }),
      this.board().chosen(),
      this.seen(),
    ),
  );
  private readonly roomHeight = signal(0);
  private readonly seen = computed(() => {
    const from = this.view().scrollTop();
    const top = from - this.level();
    return { from, to: top + this.roomHeight(), workTo: from + this.view().seenHeight() };
  });
  /** As they follow each other on the work, by what they say themselves: whoever writes in one is not moved away. */
  protected readonly inOrder = computed(() => [...this.notes()].sort((a, b) => comparePlaces(a.mark, b.mark)));
  private before = '';

  private readonly notesPlace = viewChild.required<ElementRef<HTMLElement>>('notesPlace');
  /** How far above the notes the work begins: they stand at the height of their lines. */
  protected readonly level = signal(0);

  constructor() {
    afterRenderEffect({
      earlyRead: () => {
        this.view().tops();
        this.heights();
        return this.view().top() - this.notesPlace().nativeElement.getBoundingClientRect().top;
      },
      write: (read) => {
        if (Math.abs(read() - this.level()) > 0.5) this.level.set(read());
      },
    });
    // Whoever writes goes on in the mark that became theirs.
    inject(MarkOutbox)
      .crossed.pipe(takeUntilDestroyed())
      .subscribe(({ id, as, words }) => {
        this.statusBar.announce(words);
        if (as !== null && this.board().chosen() === id) this.board().choose(as, this.board().writing());
      });
    // A note that says nothing when it is left is none.
    effect(() => {
      const chosen = this.board().chosen();
      untracked(() => {
        if (this.before !== chosen) this.dropEmpty(this.before);
        this.before = chosen;
      });
    });
    const watcher = new ResizeObserver(([entry]) => this.roomHeight.set(entry!.contentRect.height));
    afterNextRender(() => watcher.observe(this.notesPlace().nativeElement));
    inject(DestroyRef).onDestroy(() => watcher.disconnect());
    afterRenderEffect({
      earlyRead: () =>
        new Map(this.rows().map((r) => [r.nativeElement.dataset['note']!, r.nativeElement.offsetHeight])),
      write: (read) => {
        const [was, now] = [this.heights(), read()];
        if (now.size !== was.size || [...now].some(([id, h]) => was.get(id) !== h)) this.heights.set(now);
      },
    });
  }

  private dropEmpty(id: string): void {
    const mark = this.marks.find(id)?.mark;
    const says = mark?.kind === 'note' || mark?.kind === 'text';
    if (says && mark.comment.trim() === '') this.marks.takeOff(id);
  }

  protected topOf(m: BoardMark): number | null {
    return this.tops().get(m.id) ?? null;
  }

  protected kept(m: BoardMark): boolean {
    return this.marks.find(m.id)?.kept !== false;
  }

  protected use(tool: MarkTool): void {
    this.board().tool.update((was) => (was === tool ? null : tool));
    this.board().choose('');
  }

  protected setInk(ink: Ink): void {
    this.board().ink.set(ink);
    const chosen = this.board().marks().find((m) => m.id === this.board().chosen()); // prettier-ignore
    if (chosen) this.board().change(chosen.id, { ...chosen.mark, ink });
  }

  protected choose(m: BoardMark, writing: boolean): void {
    this.board().choose(m.id, writing);
    this.view().show(m.id);
  }

  protected say(m: BoardMark, part: Partial<WorkMark>): void {
    this.board().change(m.id, { ...m.mark, ...part }, true);
  }

  /** The words of a note are done. */
  protected done(): void {
    this.board().choose('');
    this.left.emit();
  }

  protected takeOff(m: BoardMark): void {
    this.board().choose('');
    this.marks.takeOff(m.id);
    this.statusBar.announce('The mark is off. Ctrl+Z brings it back.');
    this.left.emit();
  }

  protected undo(): void {
    const why = this.marks.undo();
    if (why) this.statusBar.announce(why);
  }

  protected redo(): void {
    const why = this.marks.redo();
    if (why) this.statusBar.announce(why);
  }

  /** A key of the room, for what is chosen or made. Gives whether it was one. */
  press(event: KeyboardEvent): boolean {
    const board = this.board();
    if ((event.ctrlKey || event.metaKey) && !event.altKey) {
      const key = event.key.toLowerCase();
      if (key === 'z' && !event.shiftKey) this.undo();
      else if (key === 'y' || (key === 'z' && event.shiftKey)) this.redo();
      else return false;
      return true;
    }
    if (event.ctrlKey || event.altKey || event.metaKey || !board.mayMark()) return false;
    switch (event.key.toLowerCase()) {
      case 'h':
        if (!board.markWords('highlight', false)) this.use('highlight');
        return true;
      case 'c':
        return board.markWords('highlight', true);
      case 'k':
        return board.markWords('strike', true);
      case 'm':
        this.use('note');
        return true;
      case 't':
        this.use('text');
        return true;
      case 'p':
        this.use('pen');
        return true;
      case 'enter':
        return this.place();
      case 'escape': {
        if (board.tool() === null && board.chosen() === '' && !board.words()) return false;
        getSelection()?.removeAllRanges();
        board.leave();
        return true;
      }
      default:
        return false;
    }
  }

  /** A note or a text in the middle of what is seen, for whoever marks without a pointer. */
  private place(): boolean {
    const board = this.board();
    const tool = board.tool();
    if (tool !== 'note' && tool !== 'text') return false;
    board.tool.set(null);
    return this.view().putInMiddle(tool);
  }
}
