import { inject, Injectable } from '@angular/core';
import { points } from '../../../ui/text/cell-view';
import { FLAG, STATES } from '../../../worker/protocol';
import { LedgerView } from '../view/ledger-view';

/** What cells say, as text that goes elsewhere. */
@Injectable()
export class CellTexts {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;

  /** What a cell was marked, or its state's word, as one would type it; '' where there is neither. */
  typed(s: number, item: string): string {
    const cells = this.store.cells()!;
    const at = this.store.at(s, this.store.itemIndex().get(item)!);
    const state = STATES[cells.state[at]!]!;
    if (state === 'excused') return 'excused';
    if (state === 'awaiting') return 'awaited';
    if (state === 'missing') return cells.flags[at]! & FLAG.byHand ? 'missing' : '';
    const marked = cells.marked[at]!;
    if (!Number.isNaN(marked)) return String(marked / 10_000);
    return state === 'scored' || state === 'set' ? String(cells.counts[at]! / 100) : '';
  }

  /** What a cell shows. */
  shown(s: number, item: string): string {
    const cells = this.store.cells()!;
    const at = this.store.at(s, this.store.itemIndex().get(item)!);
    if (cells.flags[at]! & FLAG.hidden) return 'hidden until shown';
    const state = STATES[cells.state[at]!]!;
    if (state !== 'scored' && state !== 'set')
      return { pending: 'to mark', missing: 'missing' }[state as string] ?? this.typed(s, item);
    const marked = cells.marked[at]!;
    return points(this.view.asMarked() && !Number.isNaN(marked) ? Math.round(marked / 100) : cells.counts[at]!);
  }
}
