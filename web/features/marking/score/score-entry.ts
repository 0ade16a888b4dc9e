import { inject, Injectable } from '@angular/core';
import { cellKey } from '@contract/wire/cell-key';
import type { CellChange, EntryContent } from '@core/book/change';
import { makesException } from '@core/book/exceptions';
import { readTyped, splitReason } from '@core/import/typed';
import { BookStore } from '../../../data/book';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { inDecimals } from '../../../ui/text/locale';
import { STATES } from '../../../worker/protocol';

/** Where a score is typed. */
export interface ScorePlace {
  student: string;
  item: string;
  /** Something was handed in, so that a score has something to stand on. */
  handedIn: boolean;
  /** What the levels of a rubric make: another score takes the place of their sum. */
  sum?: number | null;
}

/** What the box of a cell shows: the last attempt's score or mark as it would be typed. */
export function typedScore(content: EntryContent | null | undefined): string {
  const last = content?.attempts?.at(-1);
  return last?.mark ?? (last?.score === undefined ? '' : inDecimals(String(last.score)));
}

/** Keeps what is typed as a score in the room or on the plain sheet, as the ledger does: the same words, the same questions. */
@Injectable({ providedIn: 'root' })
export class ScoreEntry {
  private readonly store = inject(BookStore);
  private readonly unreadable = inject(UnreadableEntries);

  /**
   * Keeps it, and gives ''; else gives what is to be said first: that it cannot be read, or what is asked once. `seen`: the
   * version that stood when one began to type; `accepted`: what was asked about already.
   */
  enter(at: ScorePlace, text: string, seen: number, accepted: string, content: EntryContent = {}): string {
    const item = this.store.assessments().get(at.item);
    const points = item?.points ?? 0;
    const { text: bare, reason } = splitReason(text);
    const read = readTyped(bare, { points, marks: item?.marks ?? [] });
    if (read.kind === 'refused') return read.message;
    const change: CellChange = read.kind === 'blank' ? { kind: 'clear' } : read.change;
    if (this.store.page()?.wantsReasons === true && reason === '' && makesException(content, change))
      return 'The school wants a reason: it follows a dash, as in “excused - ill”.';
    if (accepted !== text) {
      if (read.kind === 'change' && read.above)
        return `${bare.trim()} is more than the ${points} possible. Enter once more keeps it.`;
      if (typeof at.sum === 'number' && change.kind === 'score' && change.points !== at.sum)
        return `The levels make ${inDecimals(String(at.sum))}. Enter once more puts ${bare.trim()} in the place of their sum; a reason follows a dash.`;
      if ((change.kind === 'score' || change.kind === 'mark') && !at.handedIn && this.holdsNothing(at))
        return 'Nothing was handed in. Enter once more scores it all the same.';
    }
    this.keep(at, change, text, seen);
    return '';
  }

  keep({ student, item }: Pick<ScorePlace, 'student' | 'item'>, change: CellChange, typed: string, seen: number): void {
    this.unreadable.drop([cellKey(student, item)]);
    void this.store.change({ student, item, change, typed, seen });
  }

  /** It cannot be read, or was not said yes to: it stays with its student, on this machine. */
  setAside({ student, item }: Pick<ScorePlace, 'student' | 'item'>, text: string, message: string): void {
    this.unreadable.keep([[cellKey(student, item), { text, message }]]);
  }

  /** Nothing came, and nothing is scored: as the ledger has it, which is there before the cell itself is. */
  private holdsNothing({ student, item }: ScorePlace): boolean {
    const [cells, at] = [this.store.cells(), this.store.atCell(student, item)];
    const state = cells && !Number.isNaN(at) ? STATES[cells.state[at]!]! : 'blank';
    return state !== 'pending' && state !== 'scored' && state !== 'set';
  }
}
