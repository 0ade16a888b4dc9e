import { ChangeDetectionStrategy, Component, computed, DestroyRef, forwardRef, inject, input } from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import type { Block } from './model';

/** The blocks of a document below each other, drawn piece by piece: no markup of a file gets into the page. */
@Component({
  selector: 'lt-blocks',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NgTemplateOutlet, forwardRef(() => Blocks)],
  template: `
    @for (b of shown(); track $index) {
      @switch (b.kind) {
        @case ('text') {
          @if (b.item) {
            <p class="item" [style.padding-left.em]="1.6 * b.item.depth">
              <span class="marker">{{ b.item.marker }}</span>
              <ng-container [ngTemplateOutlet]="runs" [ngTemplateOutletContext]="{ $implicit: b.runs }" />
            </p>
          } @else if (b.level > 0) {
            <p role="heading" [attr.aria-level]="b.level + 1" [class]="'heading h' + b.level">
              <ng-container [ngTemplateOutlet]="runs" [ngTemplateOutletContext]="{ $implicit: b.runs }" />
            </p>
          } @else {
            <p><ng-container [ngTemplateOutlet]="runs" [ngTemplateOutletContext]="{ $implicit: b.runs }" /></p>
          }
        }
        @case ('table') {
          <table>
            @for (row of b.rows; track $index) {
              <tr>
                @for (cell of row; track $index) {
                  <td><lt-blocks [blocks]="cell" /></td>
                }
              </tr>
            }
          </table>
        }
        @case ('picture') {
          <img [src]="b.address" [alt]="b.words" />
        }
      }
    }
    <ng-template #runs let-runs>
      @for (r of runs; track $index) {
        @if (r.link) {
          <a [href]="r.link" target="_blank" rel="noopener noreferrer">{{ r.text }}</a>
        } @else {
          <span
            [class.bold]="r.bold"
            [class.italic]="r.italic"
            [class.underlined]="r.underlined"
            [class.raised]="r.raised"
            [class.lowered]="r.lowered"
            >{{ r.text }}</span
          >
        }
      }
    </ng-template>
  `,
  styleUrl: './blocks.css',
})
export class Blocks {
  readonly blocks = input.required<readonly Block[]>();
  private addresses: string[] = [];
  /** Pictures with an address of their own, given back when they go. */
  protected readonly shown = computed(() =>
    this.blocks().map((b) => (b.kind === 'picture' ? { ...b, address: this.addressOf(b) } : b)),
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.addresses.forEach((a) => URL.revokeObjectURL(a)));
  }

  private addressOf(b: Block & { kind: 'picture' }): string {
    const address = URL.createObjectURL(new Blob([b.bytes], { type: b.type }));
    this.addresses.push(address);
    return address;
  }
}
