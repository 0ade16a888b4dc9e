import { ChangeDetectionStrategy, Component } from '@angular/core';

/** Four strokes and the fifth, in gold. */
@Component({
  selector: 'lt-mark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg viewBox="0 0 28 22" width="28" height="22" aria-hidden="true">
    <g stroke="currentColor" stroke-width="2" stroke-linecap="round">
      <path d="M6 4v14M11.3 4v14M16.6 4v14M21.9 4v14" />
    </g>
    <path d="M1.5 17 26.5 7" stroke="var(--gold)" stroke-width="2.4" stroke-linecap="round" />
  </svg>`,
  styles: `
    :host {
      display: inline-flex;
    }
  `,
})
export class Mark {}
