import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { percentLine } from './percent-line';

/** A standing on the percent line: from low to high, a mark where it is, thin ticks where letters begin. */
@Component({
  selector: 'lt-range-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg
    [attr.width]="width()"
    [attr.height]="letters().length > 0 ? 34 : 14"
    [attr.viewBox]="'0 0 ' + width() + (letters().length > 0 ? ' 34' : ' 14')"
    aria-hidden="true"
  >
    @if (letters().length > 0) {
      <rect class="track" x="0" y="5" [attr.width]="width()" height="7" />
      @if (span(); as s) {
        <rect class="reach" [attr.x]="s[0]" y="5" [attr.width]="s[1]! - s[0]!" height="7" />
      }
      @for (l of names(); track l.at) {
        <line class="gap" [attr.x1]="l.at" [attr.x2]="l.at" y1="5" y2="12" />
        <text [attr.x]="l.at" y="28" text-anchor="middle">{{ l.label }}</text>
      }
      @if (point() !== null) {
        <rect class="point" [attr.x]="point()! - 1.5" y="0" width="3" height="17" />
      }
    } @else {
      @for (e of edges(); track $index) {
        <line class="edge" [attr.x1]="e" [attr.x2]="e" y1="3" y2="9" />
      }
      @if (span(); as s) {
        <line class="span" [attr.x1]="s[0]" [attr.x2]="s[1]" y1="7" y2="7" />
      }
      @if (point() !== null) {
        <rect class="point" [attr.x]="point()! - 1.5" y="2" width="3" height="10" />
      }
    }
  </svg>`,
  styles: `
    :host {
      display: inline-flex;
    }
    .edge {
      stroke: var(--rule);
      stroke-width: 1;
    }
    .span {
      stroke: var(--range);
      stroke-width: 2.5;
    }
    .point {
      fill: var(--ink);
    }
    .track {
      fill: var(--tab);
    }
    .reach {
      fill: var(--range);
    }
    .gap {
      stroke: var(--paper);
      stroke-width: 2;
    }
    text {
      font: 13px var(--serif);
      fill: var(--ink);
    }
  `,
})
export class RangeBar {
  /** Percents; NaN where there is none. */
  readonly at = input.required<number>();
  readonly low = input.required<number>();
  readonly high = input.required<number>();
  readonly bands = input<readonly number[]>([]);
  readonly width = input(76);
  /** Where letters begin, each with its name: then there is a track with them under it. */
  readonly letters = input<readonly { label: string; from: number }[]>([]);
  private readonly x = computed(() => percentLine(2, this.width() - 2));
  protected readonly edges = computed(() =>
    this.bands()
      .filter((b) => b > 20)
      .map((b) => this.x()(b)),
  );
  protected readonly names = computed(() =>
    this.letters()
      .filter((l) => l.from > 20)
      .map((l) => ({ label: l.label, at: this.x()(l.from) })),
  );
  protected readonly point = computed(() => (Number.isNaN(this.at()) ? null : this.x()(this.at())));
  protected readonly span = computed(() =>
    Number.isNaN(this.low()) || Number.isNaN(this.high())
      ? null
      : [this.x()(Math.min(this.low(), this.high())), this.x()(Math.max(this.low(), this.high()))],
  );
}
