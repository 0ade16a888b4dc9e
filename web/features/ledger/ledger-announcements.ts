import { DestroyRef, effect, inject, Injectable, untracked } from '@angular/core';
import { KeyPause } from '../../ui/timing/key-pause';
import { StatusBar } from '../../ui/layout/status-bar';
import { LedgerRows } from './grid/ledger-rows';
import { LedgerView } from './view/ledger-view';

/** Milliseconds without another cell or a key after which what was kept is said. */
const PAUSE = 200;

/** What the bar at the foot says in the ledger: what was kept last and what stands in the cell. */
@Injectable()
export class LedgerAnnouncements {
  private readonly view = inject(LedgerView);
  private readonly rows = inject(LedgerRows);
  private readonly statusBar = inject(StatusBar);
  private readonly keyPause = inject(KeyPause);
  private readonly destroyed = inject(DestroyRef);
  private readonly store = this.view.store;

  private spot = '';
  private callOff: () => void = () => undefined;

  /** To be called while the page is made. */
  begin(): void {
    this.destroyed.onDestroy(() => this.callOff());
    this.destroyed.onDestroy(this.statusBar.follow(() => this.place()));
    effect(() => {
      const at = this.store.keptAt();
      const line = this.store.outbox.line();
      const here = this.here();
      const selected = this.view.selected();
      if (line !== 'up' || !this.store.cells()) return;
      const more = selected > 1 ? ` · ${selected} cells selected` : '';
      const spot = this.place();
      this.callOff();
      const moved = spot !== this.spot;
      this.spot = spot;
      const say = (): void => this.statusBar.setIdle(`${at ? `Kept ${at} · ` : ''}${here}${more}`);
      if (moved) untracked(say);
      // While one types on, the next cell says it: a frame of its own would be in the way of the next key.
      else this.callOff = this.keyPause.after(PAUSE, say);
    });
  }

  private place(): string {
    const { row, col } = this.view.cursor();
    return `${row} ${col} ${this.view.selected()}`;
  }

  private here(): string {
    const place = this.view.place();
    this.store.revision();
    const person = place ? this.store.people().get(place.student) : undefined;
    if (!place || !person) return '';
    const row = this.rows.body().find((r) => r.student === place.index);
    const cell = row?.cells.find((c) => c.col === this.view.cursor().col);
    const word = cell && cell.words !== 'empty' ? `: ${cell.words}` : '';
    return `${person.family}${person.given ? `, ${person.given}` : ''}, ${this.title(place.item)}${word}`;
  }

  private title(item: string | null): string {
    if (item !== null) return this.store.assessments().get(item)?.title ?? '';
    const column = this.view.layout()[this.view.cursor().col];
    if (column?.kind === 'criterion') return this.view.criteria.criterion(column.of, column.criterion)?.title ?? '';
    return column?.kind === 'total' ? this.view.titleOf(column.category) : 'Standing';
  }
}
