import { inDecimals } from '../text/locale';
import { ChangeDetectionStrategy, Component, computed, input, signal } from '@angular/core';
import { Counted } from '../text/counted';
import { MANY_ROWS, ROW_HEIGHT, ROWS } from './rows';
import type { Shown } from '@core/proposal/compare';

/** One student who would move, with a name to show. */
export interface MoverRow {
  id: string;
  name: string;
  before: Shown;
  after: Shown;
  /** What moves them, in small words below the name; empty: nothing is said. */
  why: string;
}

/** Movers that are listed at first. */
const FIRST = 30;

/** Who would move in a trial, and across which letter. */
@Component({
  selector: 'lt-movers-table',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, ROWS],
  template: `
    <p-table
      [value]="$any(shown())"
      [virtualScroll]="shown().length > MANY"
      [virtualScrollItemSize]="ROW"
      [scrollable]="shown().length > MANY"
      [scrollHeight]="shown().length > MANY ? '62vh' : undefined"
      rowKey="id"
      [tableStyleClass]="shown().length > MANY ? 'plain many' : 'plain'"
    >
      <ng-template #header
        ><tr>
          <th scope="col">Student</th>
          <th scope="col" class="right">now → in the trial</th>
          @if (lettered()) {
            <th scope="col" class="right">letter</th>
          }
        </tr></ng-template
      >
      <ng-template #body let-m [ltRows]="shown()">
        <tr>
          <td>
            {{ m.name }}
            @if (m.why) {
              <small class="quiet">{{ m.why }}</small>
            }
          </td>
          <td class="right mono">{{ figures(m) }}</td>
          @if (lettered()) {
            <td class="right" [class.plum]="m.before.letter !== m.after.letter">{{ letters(m) }}</td>
          }
        </tr>
      </ng-template>
    </p-table>
    @if (rows().length > shown().length) {
      <button type="button" class="word" (click)="all.set(true)">and {{ rows().length - shown().length }} more</button>
    }
    @if (unlisted() > 0 && all()) {
      <p class="quiet">{{ unlisted() | counted: 'more is' : 'more are' }} not listed: they move the least.</p>
    }
  `,
  styles: `
    small {
      display: block;
    }
    td.right {
      white-space: nowrap;
    }
  `,
})
export class MoversTable {
  protected readonly MANY = MANY_ROWS;
  protected readonly ROW = ROW_HEIGHT;
  readonly rows = input.required<readonly MoverRow[]>();
  /** Letters stand beside the figures. */
  readonly lettered = input(true);
  /** Those who move and are in no row. */
  readonly unlisted = input(0);
  protected readonly all = signal(false);
  protected readonly shown = computed(() => (this.all() ? this.rows() : this.rows().slice(0, FIRST)));

  /** One figure where it is the letter alone that changes. */
  protected figures({ before, after }: MoverRow): string {
    const [was, is] = [inDecimals(before.percent ?? 'none'), inDecimals(after.percent ?? 'none')];
    return was === is ? is : `${was} → ${is}`;
  }

  protected letters({ before, after }: MoverRow): string {
    return before.letter === after.letter ? (after.letter ?? '') : `${before.letter ?? '–'} → ${after.letter ?? '–'}`;
  }
}
