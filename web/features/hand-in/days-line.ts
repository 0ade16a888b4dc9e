import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { scaleLinear } from 'd3';
import type { DueList } from '@contract/work/submissions';
import { day, shownAt } from '../../ui/text/dates';

const WIDTH = 360;
const DAY = 86_400_000;
/** Days that are drawn: what is due later stands in the list alone. */
const DAYS = 7;
/** What a letter of a title takes, in pixels. */
const LETTER = 6.4;

/** The next days as a line, with a tick where something is due. */
@Component({
  selector: 'lt-days-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' 64'" role="img" [attr.aria-label]="words()" font-size="11">
      <line x1="0" [attr.x2]="width" y1="46" y2="46" stroke="var(--rule)" stroke-width="2" />
      @for (d of days(); track d.x) {
        <text [attr.x]="d.x" y="61" fill="var(--pencil)">{{ d.word }}</text>
      }
      <line [attr.x1]="now()" [attr.x2]="now()" y1="26" y2="46" stroke="var(--ink)" stroke-width="2" />
      <text [attr.x]="now()" y="18" fill="var(--ink)" font-weight="700">now</text>
      @for (t of ticks(); track t.x) {
        <rect [attr.x]="t.x - 2" y="24" width="4" height="22" [attr.fill]="t.open ? 'var(--blue)' : 'var(--ink)'" />
        <text
          [attr.x]="t.x + t.shift"
          [attr.text-anchor]="t.shift < 0 ? 'end' : 'start'"
          y="36"
          [attr.fill]="t.open ? 'var(--blue-text)' : 'var(--ink)'"
          font-weight="700"
        >
          {{ t.title }}
        </text>
      }
    </svg>
  `,
  styles: `
    :host,
    svg {
      display: block;
      width: 100%;
    }
  `,
})
export class DaysLine {
  readonly work = input.required<DueList['work']>();
  readonly asOf = input.required<string>();
  protected readonly width = WIDTH;
  private readonly zone = computed(() => this.work()[0]?.timeZone ?? 'UTC');
  /** The local midnight before now. */
  private readonly from = computed(() => Math.floor(shownAt(Date.parse(this.asOf()), this.zone()) / DAY) * DAY);
  private readonly x = computed(() => scaleLinear([this.from(), this.from() + DAYS * DAY], [4, WIDTH - 4]));
  private readonly place = (at: string): number => this.x()(shownAt(Date.parse(at), this.zone()));
  protected readonly now = computed(() => this.place(this.asOf()));
  protected readonly days = computed(() =>
    Array.from({ length: DAYS }, (_, n) => ({
      x: this.x()(this.from() + n * DAY) + 2,
      word: n % 2 === 0 ? day(this.from() + n * DAY + DAY / 2, 'UTC') : '',
    })),
  );
  protected readonly ticks = computed(() => {
    const seen = new Map<number, { x: number; title: string; open: boolean; shift: number }>();
    for (const w of this.work()) {
      if (w.due === null || w.state !== 'open') continue;
      const x = Math.round(this.place(w.due));
      if (x < 0 || x > WIDTH) continue;
      const before = seen.get(x);
      const title = before ? `${before.title} +1` : w.title.length > 18 ? `${w.title.slice(0, 17)}…` : w.title;
      seen.set(x, { x, title, open: (before?.open ?? false) || w.takesWork, shift: x > WIDTH / 2 ? -5 : 5 });
    }
    // Words that would lie on a tick, or on each other, are left to the list.
    const all = [...seen.values()].sort((a, b) => a.x - b.x);
    return all.map((t, n) => {
      const [before, after] = [all[n - 1]?.x ?? this.now(), all[n + 1]?.x ?? WIDTH];
      const room = t.shift > 0 ? after - t.x : t.x - before;
      return room > LETTER * t.title.length + 8 ? t : { ...t, title: '' };
    });
  });
  protected readonly words = computed(() => {
    const titles = this.work().filter((w) => w.due !== null && w.state === 'open').slice(0, 5).map((w) => w.title); // prettier-ignore
    return titles.length === 0 ? 'Nothing is due in the next days.' : `Due next: ${titles.join(', ')}.`;
  });
}
