import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { max, scaleLinear } from 'd3';
import type { DeskWeek } from '@contract/overview';
import { day } from '../../ui/text/dates';

const WIDTH = 316;
const HEIGHT = 116;
const FOOT = HEIGHT - 20;
const DAY = 86_400_000;

/** The term by week: what came in, this week's in blue pencil, and what is still to come. */
@Component({
  selector: 'lt-weeks-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" role="img" [attr.aria-label]="words()" font-size="11">
      @for (b of bars(); track b.monday) {
        <rect
          [attr.x]="b.x"
          [attr.y]="b.came"
          [attr.width]="b.width"
          [attr.height]="foot - b.came"
          [attr.fill]="b.now ? 'var(--blue)' : 'var(--ink)'"
        >
          <title>week of {{ b.message }}: {{ b.week.came }} came in</title>
        </rect>
        <rect
          [attr.x]="b.x"
          [attr.y]="b.toCome"
          [attr.width]="b.width"
          [attr.height]="b.came - b.toCome"
          fill="var(--tick-draft)"
          fill-opacity="0.55"
        >
          <title>week of {{ b.message }}: {{ b.week.toCome }} to come</title>
        </rect>
        @if (b.month) {
          <text [attr.x]="b.x" [attr.y]="height - 4" fill="var(--pencil)">{{ b.month }}</text>
        }
      }
      <line x1="0" [attr.x2]="width" [attr.y1]="foot" [attr.y2]="foot" stroke="var(--ink)" />
      @if (today() !== null) {
        <line [attr.x1]="today()" [attr.x2]="today()" y1="12" [attr.y2]="foot" stroke="var(--ink)" />
        <text [attr.x]="today()! - 4" y="10" text-anchor="end" fill="var(--ink)">today</text>
        <text [attr.x]="today()! + 4" y="10" fill="var(--pencil)">to come</text>
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
export class WeeksPicture {
  readonly weeks = input.required<readonly DeskWeek[]>();
  readonly asOf = input.required<string>();
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  protected readonly foot = FOOT;

  private readonly each = computed(() => WIDTH / Math.max(1, this.weeks().length));
  protected readonly bars = computed(() => {
    const most = max(this.weeks(), (w) => w.came + w.toCome) ?? 1;
    const y = scaleLinear([0, Math.max(1, most)], [FOOT, 16]);
    const now = Date.parse(this.asOf());
    return this.weeks().map((week, i) => {
      const from = Date.parse(`${week.monday}T00:00:00Z`);
      // A month is named at the week that holds its first day.
      const end = new Date(from + 6 * DAY);
      const month = i === 0 || end.getUTCDate() <= 7 ? day(from + 6 * DAY, 'UTC').replace(/^\d+ /, '') : '';
      return {
        week,
        monday: week.monday,
        message: day(from, 'UTC'),
        month,
        now: from <= now && now < from + 7 * DAY,
        x: i * this.each() + this.each() * 0.2,
        width: this.each() * 0.6,
        came: y(week.came),
        toCome: y(week.came + week.toCome),
      };
    });
  });
  protected readonly today = computed(() => {
    const first = this.weeks()[0];
    if (!first) return null;
    const at = (Date.parse(this.asOf()) - Date.parse(`${first.monday}T00:00:00Z`)) / (7 * DAY);
    return at < 0 || at > this.weeks().length ? null : at * this.each();
  });
  protected readonly words = computed(
    () =>
      `Work by week: ${this.weeks()
        .filter((w) => w.came + w.toCome > 0)
        .map(
          (w) => `${day(`${w.monday}T00:00:00Z`, 'UTC')} ${w.came > 0 ? `${w.came} came in` : `${w.toCome} to come`}`,
        )
        .join(', ')}`,
  );
}
