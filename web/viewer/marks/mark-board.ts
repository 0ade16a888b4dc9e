import { computed, Injectable, signal } from '@angular/core';
import { Subject } from 'rxjs';
import type { BoardMark } from './board-mark';
import type { TextSurface } from './chosen-words';
import { newOperation } from '@contract/wire/operation';
import type { Ink, MarkKind, Quote, Box, Surface, WorkMark } from '@core/marks/work-mark';

/** What the pointer makes; null: it reads and chooses words. */
export type MarkTool = Exclude<MarkKind, 'strike'> | null;

/** Words that were chosen, or found, and where they stand. */
export interface ChosenWords {
  surface: Surface;
  quote: Quote;
  /** Of a page: where its lines are. */
  boxes: Box[];
  /** Where they lie in the window. */
  edge: DOMRect;
}

/** What somebody did on the work; what becomes of it is for whoever shows it. */
export type MarkAct =
  | { act: 'make'; id: string; mark: WorkMark; writes: boolean }
  | { act: 'change'; id: string; mark: WorkMark; together: boolean }
  | { act: 'take-off'; id: string };

/** What surfaces and those around them know together of the marks on one piece of work. For one viewer. */
@Injectable()
export class MarkBoard {
  /** Those on the leaf that is shown. */
  readonly marks = signal<readonly BoardMark[]>([]);
  readonly mayMark = signal(false);
  readonly tool = signal<MarkTool>(null);
  readonly ink = signal<Ink>('plum');
  /** The mark that is chosen, and whether its words are written. */
  readonly chosen = signal('');
  readonly writing = signal(false);
  readonly words = signal<ChosenWords | null>(null);
  readonly acts = new Subject<MarkAct>();
  /** Grows when marks were laid out anew, so that what stands beside them follows. */
  readonly laidOut = signal(0);
  /** A leaf that flows is shown in its full width: things are drawn on it, or about to be. */
  readonly fixed = computed(
    () => this.tool() !== null || this.marks().some((m) => m.mark.strokes !== undefined || m.mark.at !== undefined || (m.mark.boxes !== undefined && m.mark.quote === undefined)), // prettier-ignore
  );

  /** The surfaces with text that are drawn now. */
  readonly surfaces = new Set<TextSurface>();

  /** Nothing is chosen or made any more. */
  leave(): void {
    this.choose('');
    this.tool.set(null);
    this.words.set(null);
  }

  choose(id: string, writing = false): void {
    this.chosen.set(id);
    this.writing.set(writing && this.mayMark());
  }

  /** Gives its id. `writes`: its words are typed next. */
  make(mark: Omit<WorkMark, 'ink' | 'comment'>, writes: boolean): string {
    const id = newOperation();
    if (this.mayMark()) this.acts.next({ act: 'make', id, mark: { ...mark, ink: this.ink(), comment: '' }, writes });
    return id;
  }

  change(id: string, mark: WorkMark, together = false): void {
    if (this.mayMark()) this.acts.next({ act: 'change', id, mark, together });
  }

  /** A mark over the words that are chosen; gives whether there were any. */
  markWords(kind: 'highlight' | 'strike', writes: boolean): boolean {
    const words = this.words();
    if (!words || !this.mayMark()) return false;
    this.make({ kind, surface: words.surface, quote: words.quote, ...(words.boxes.length > 0 ? { boxes: words.boxes } : {}) }, writes); // prettier-ignore
    this.words.set(null);
    getSelection()?.removeAllRanges();
    return true;
  }
}
