import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChildren,
} from '@angular/core';
import { INKS, type Ink, type WorkMark } from '@core/marks/work-mark';
import { WorkMarks } from '../../../data/work/work-marks';
import type { BoardMark, MarkTool } from '../../../viewer/marks/mark-board';
import { markLabel } from '../../../viewer/marks/mark-label';
import { bareKeys } from '../../../ui/layout/appearance';
import { StatusBar } from '../../../ui/layout/status-bar';
import type { WorkView } from '../work-view';
import { MarginNote } from './margin-note';
import { stackNotes } from './stack-notes';

/** The margin beside the work: what is said of it stands next to its line; and what one marks with. For one piece of work. */
@Component({
  selector: 'lt-margin',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MarginNote],
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
    ),
  );
  protected readonly inOrder = computed(() => {
    const tops = this.tops();
    return [...this.notes()].sort((a, b) => (tops.get(a.id) ?? 0) - (tops.get(b.id) ?? 0));
  });

  constructor() {
    afterRenderEffect({
      earlyRead: () =>
        new Map(this.rows().map((r) => [r.nativeElement.dataset['note']!, r.nativeElement.offsetHeight])),
      write: (read) => {
        const [was, now] = [this.heights(), read()];
        if (now.size !== was.size || [...now].some(([id, h]) => was.get(id) !== h)) this.heights.set(now);
      },
    });
  }

  protected topOf(m: BoardMark): number | null {
    return this.tops().get(m.id) ?? null;
  }

  protected kept(m: BoardMark): boolean {
    return this.marks.find(m.id)?.kept !== false;
  }

  protected readonly label = markLabel;

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

  /** The words of a note are done; a note without any is none. */
  protected done(m: BoardMark): void {
    const now = this.board().marks().find((x) => x.id === m.id)?.mark; // prettier-ignore
    this.board().choose('');
    if (now?.kind === 'note' && now.comment.trim() === '') this.marks.takeOff(m.id);
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
