import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { Figures } from './decimals';
import type { Line } from '@core/working/sentences';

/** The lines of a working: label, sentence, figure. */
@Component({
  selector: 'lt-working-lines',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Figures],
  template: `
    <dl>
      @for (l of lines(); track $index) {
        <div [class]="l.tone">
          <dt>{{ l.label }}</dt>
          <dd class="figure mono">{{ l.figure | figures }}</dd>
          @if (l.detail) {
            <dd class="detail">{{ l.detail | figures }}</dd>
          }
        </div>
      }
    </dl>
  `,
  styles: `
    dl {
      margin: 0;
    }
    div {
      display: grid;
      grid-template-columns: 1fr auto;
      column-gap: 10px;
      padding: 6px 0;
      border-top: 1px dotted var(--rule);
    }
    dt {
      font-weight: 600;
    }
    dd {
      margin: 0;
    }
    .figure {
      text-align: right;
      white-space: nowrap;
    }
    .detail {
      grid-column: 1;
      color: var(--pencil);
      font-size: 12px;
      line-height: 1.35;
    }
    .cost .figure,
    .cost dt {
      color: var(--umber);
    }
    .quiet dt,
    .quiet .figure {
      color: var(--pencil);
    }
    .sum {
      border-bottom: 2px solid var(--rule-strong);
    }
    .sum dt,
    .sum .figure {
      font-weight: 700;
    }
  `,
})
export class WorkingLines {
  readonly lines = input.required<readonly Line[]>();
}
