import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { flowSize } from '../marks/flow-size';
import { FlowSurface } from '../marks/flow-surface';
import { MarkBoard } from '../marks/mark-board';
import { Blocks } from './blocks';
import type { ReadDocument, ReadSheets } from './model';

/** A word-processor document or a spreadsheet as far as it can be read, which it says. For one file. */
@Component({
  selector: 'lt-document-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Blocks, FlowSurface],
  template: `
    @if (document(); as d) {
      <div class="paper" data-drawn="yes" [style.width.px]="size().width" [style.font-size.px]="size().letters">
        <p class="about">
          Words, tables and pictures of the file; its layout may look otherwise in the original.{{
            d.cut ? ' It is longer than is shown here.' : ''
          }}
        </p>
        <div #flow><lt-blocks [blocks]="d.blocks" /></div>
        <lt-flow-surface [text]="flow" />
        @if (d.notes.length > 0) {
          <ol class="notes">
            @for (n of d.notes; track $index) {
              <li><lt-blocks [blocks]="[{ kind: 'text', level: 0, runs: n }]" /></li>
            }
          </ol>
        }
      </div>
    }
    @if (sheets(); as all) {
      <div class="paper sheet" data-drawn="yes" [style.font-size.px]="13 * zoom()">
        <p class="about">Values of the file, not its formulas and not its layout.{{ cut() }}</p>
        @if (all.length > 1) {
          <p class="names" role="group" aria-label="Sheets">
            @for (s of all; track $index) {
              <button
                type="button"
                class="word"
                [attr.aria-pressed]="$index === chosen()"
                [class.on]="$index === chosen()"
                (click)="chosen.set($index)"
              >
                {{ s.name || 'sheet ' + ($index + 1) }}
              </button>
            }
          </p>
        }
        <table #cells>
          <thead>
            <tr>
              <td class="corner"></td>
              @for (letter of letters(); track letter) {
                <th scope="col">{{ letter }}</th>
              }
            </tr>
          </thead>
          @for (row of all[chosen()]!.rows; track $index) {
            <tr>
              <th scope="row">{{ $index + 1 }}</th>
              @for (letter of letters(); track letter; let c = $index) {
                <td [class.figure]="isFigure(row[c])">{{ row[c] ?? '' }}</td>
              }
            </tr>
          }
        </table>
        <lt-flow-surface on="sheet" [index]="chosen()" [text]="cells" />
      </div>
    }
  `,
  styleUrl: './document-page.css',
})
export class DocumentPage {
  readonly content = input.required<ReadDocument | ReadSheets>();
  readonly width = input.required<number>();
  readonly zoom = input(1);
  private readonly board = inject(MarkBoard, { optional: true });
  protected readonly size = computed(() => flowSize(this.width(), this.zoom(), 15, this.board?.fixed() ?? false));
  protected readonly document = computed(() => {
    const all = this.content();
    return all.kind === 'document' ? all : null;
  });
  private readonly workbook = computed(() => {
    const all = this.content();
    return all.kind === 'sheets' && all.sheets.length > 0 ? all : null;
  });
  protected readonly sheets = computed(() => this.workbook()?.sheets ?? null);
  protected readonly chosen = linkedSignal({ source: this.sheets, computation: () => 0 });
  /** What of it is not shown, in a sentence. */
  protected readonly cut = computed(() => {
    if (this.workbook()?.cut) return ' It has more sheets than are shown here.';
    return this.sheets()?.[this.chosen()]?.cut ? ' It has more rows or columns than are shown here.' : '';
  });
  protected readonly letters = computed(() => {
    const widest = Math.max(1, ...(this.sheets()?.[this.chosen()]?.rows ?? []).map((r) => r.length));
    return Array.from({ length: widest }, (_, i) => columnName(i));
  });

  protected isFigure(text: string | undefined): boolean {
    return text !== undefined && /^[-+]?\d+([.,]\d+)?(e[-+]?\d+)?%?$/i.test(text);
  }
}

/** A, B … Z, AA … of a column from 0. */
function columnName(i: number): string {
  let name = '';
  for (let n = i + 1; n > 0; n = Math.floor((n - 1) / 26)) name = String.fromCharCode(65 + ((n - 1) % 26)) + name;
  return name;
}
