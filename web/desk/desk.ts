import { ChangeDetectionStrategy, Component, computed, inject, resource } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import type { Desk, DeskLine } from '@contract/pages';
import { Api, saysOf } from '../state/api';
import { Foot } from '../state/foot';
import { sessionFeature } from '../state/session';
import { Where } from '../state/where';
import { ago, day, longDay } from '../ui/dates';
import { ticksInWords, TickRail } from '../ui/tick-rail';

/** The first page of a teacher: what waits, by book, and the books. */
@Component({
  selector: 'lt-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [RouterLink, TickRail],
  templateUrl: './desk.html',
  styleUrl: './desk.css',
  host: { '(keydown)': 'key($event)' },
})
export class DeskPage {
  private readonly api = inject(Api);
  private readonly foot = inject(Foot);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  protected readonly desk = resource({ loader: () => this.api.get<Desk>('/desk') });
  protected readonly problem = computed(() => (this.desk.error() ? saysOf(this.desk.error()) : ''));
  protected readonly page = computed(() => (this.desk.hasValue() ? this.desk.value() : null));
  protected readonly title = computed(() => (this.page() ? longDay(this.page()!.asOf, this.page()!.timeZone) : ''));
  protected readonly groups = computed(() => {
    const page = this.page();
    if (!page) return [];
    return [
      { title: 'To mark', lines: page.toMark, act: 'start', to: 'ledger' },
      { title: 'To release', lines: page.toRelease, act: 'look and release', to: 'release' },
    ].filter((g) => g.lines.length > 0);
  });
  protected readonly waits = computed(() => {
    const page = this.page();
    if (!page) return '';
    const count = [...page.toMark, ...page.toRelease].reduce((n, l) => n + l.count, 0);
    const books = new Set([...page.toMark, ...page.toRelease].map((l) => l.book)).size;
    return count === 0
      ? 'Nothing waits for you.'
      : `${count} ${count === 1 ? 'thing waits' : 'things wait'} for you in ${books} book${books === 1 ? '' : 's'}.`;
  });
  protected readonly words = ticksInWords;
  protected readonly day = day;
  protected readonly ago = ago;

  constructor() {
    const me = this.me();
    inject(Where).set(me?.school ?? '', 'Desk');
    this.foot.tell(me ? `Signed in as ${me.name}` : '');
    this.foot.keys.set([
      { key: '↑ ↓', does: 'line' },
      { key: 'Enter', does: 'open it' },
    ]);
  }

  protected link(line: DeskLine, to: string): unknown[] {
    return ['/book', line.book, to];
  }

  /** Arrows go from line to line. */
  protected key(event: KeyboardEvent): void {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const links = [...document.querySelectorAll<HTMLElement>('lt-desk a.line')];
    const now = links.indexOf(document.activeElement as HTMLElement);
    links[Math.min(links.length - 1, Math.max(0, now + (event.key === 'ArrowDown' ? 1 : -1)))]?.focus();
    event.preventDefault();
  }
}
