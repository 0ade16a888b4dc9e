import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { parse } from '@core/exact/fraction';
import { shortText } from '@core/exact/rounding';
import { termWords, type SlipSum } from '@core/working/slip-sum';
import { inDecimals } from '../../../ui/text/locale';

/** "17.5", from the exact fraction. */
export function pointsText(exact: string): string {
  const text = shortText(parse(exact));
  return inDecimals(text.includes('.') ? text : `${text}.0`);
}

/** A score as its sum: what was marked, what was added or taken, what counts. */
@Component({
  selector: 'lt-sum-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="sum">
      @if (sum().terms.length > 0) {
        <span class="part"
          ><b class="mono">{{ points(sum().marked) }}</b
          ><span class="under">marked, of {{ of() }}</span></span
        >
        @for (t of sum().terms; track t.what) {
          <span class="sign" aria-hidden="true">{{ t.sign === '-' ? '−' : '+' }}</span>
          <span class="part"
            ><span class="unseen">{{ t.sign === '-' ? 'less' : 'and' }}</span
            ><b class="mono" [class.umber]="t.sign === '-'">{{ points(t.points) }}</b
            ><span class="under">{{ words(t) }}</span></span
          >
        }
        <span class="sign" aria-hidden="true">=</span>
        <span class="part"
          ><b class="mono">{{ points(sum().counts) }}</b
          ><span class="under">{{ dropped() ? 'dropped, does not count' : 'counts' }}</span></span
        >
      } @else {
        <span class="part"
          ><b class="mono">{{ points(sum().counts) }}</b
          ><span class="under">of {{ of() }}{{ dropped() ? ' · dropped, does not count' : '' }}</span></span
        >
      }
    </p>
  `,
  styles: `
    .sum {
      display: flex;
      flex-wrap: wrap;
      align-items: flex-start;
      gap: 4px 18px;
      margin: 0;
    }
    .part {
      display: grid;
      justify-items: start;
    }
    .part b,
    .sign {
      font-size: 28px;
      line-height: 1.25;
    }
    .sign {
      color: var(--pencil);
    }
    .under {
      color: var(--pencil);
      font-size: 13px;
      max-width: 16ch;
    }
  `,
})
export class SumLine {
  readonly sum = input.required<SlipSum>();
  /** Points of the assessment. */
  readonly of = input.required<string>();
  readonly dropped = input(false);
  protected readonly points = pointsText;
  protected readonly words = termWords;
}
