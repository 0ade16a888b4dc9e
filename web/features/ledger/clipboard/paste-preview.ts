import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  input,
  output,
  viewChild,
} from '@angular/core';
import { ROWS } from '../../../ui/layout/rows';
import { inject } from '@angular/core';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import type { Preview } from '../acts/ledger-acts';
import { LedgerView } from '../view/ledger-view';
import type { PasteCell } from './paste';

/** Lines of each kind that are shown; the rest is a number. */
const SHOWN = 8;
const KINDS: { kind: PasteCell['kind']; message: string }[] = [
  { kind: 'overwrites', message: 'would overwrite' },
  { kind: 'above', message: 'more than full marks' },
  { kind: 'refused', message: 'cannot be read: kept in the cell as it is, marked, and no score' },
];

/** What a paste or fill would do, where something in it needs a look. */
@Component({
  selector: 'lt-paste-preview',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ROWS, Dialog, Button],
  template: `
    <p-dialog
      [header]="preview()?.kind === 'fill' ? 'Before these cells are filled' : 'Before this is pasted'"
      [modal]="true"
      [focusOnShow]="false"
      closeAriaLabel="Leave it"
      [visible]="preview() !== null"
      (visibleChange)="$event || left.emit()"
      (onHide)="gone.emit()"
      [style]="{ width: '34rem' }"
    >
      @if (preview(); as p) {
        <p>
          {{ count('new') }} new{{ count('same') > 0 ? ', ' + count('same') + ' have it already' : '' }}.
          @if (p.plan.beyond > 0) {
            <b>{{ p.plan.beyond }} lie beyond the sheet and would be left out.</b>
          }
        </p>
        @for (k of kinds(); track k.kind) {
          <h3>{{ k.cells.length }} {{ k.message }}</h3>
          <p-table [value]="k.first" rowKey="$index" tableStyleClass="plain">
            <ng-template #header
              ><tr>
                <th><span class="unseen">Where</span></th>
                <th class="right">now</th>
                <th class="right">then</th>
                <th><span class="unseen">Why</span></th>
              </tr></ng-template
            >
            <ng-template #body let-c [ltRows]="k.first">
              <tr>
                <td>{{ where(c) }}</td>
                <td class="right mono">{{ c.target.now || '–' }}</td>
                <td class="right mono">{{ c.text }}</td>
                <td class="why">{{ c.kind === 'overwrites' ? '' : c.message }}</td>
              </tr>
            </ng-template>
          </p-table>
          @if (k.cells.length > shown) {
            <p class="quiet">and {{ k.cells.length - shown }} more</p>
          }
        }
      }
      <ng-template #footer>
        <p-button #first [label]="'All ' + total()" [autofocus]="true" (onClick)="all()" />
        @if (count('new') > 0) {
          <p-button [label]="'Only the ' + count('new') + ' new'" [outlined]="true" (onClick)="onlyNew()" />
        }
        <p-button label="Leave it" [text]="true" (onClick)="left.emit()" />
      </ng-template>
    </p-dialog>
  `,
  styles: `
    h3 {
      margin: 12px 0 4px;
    }
    .why {
      color: var(--red);
    }
    td:first-child {
      overflow-wrap: anywhere;
    }
  `,
})
export class PastePreview {
  readonly preview = input.required<Preview | null>();
  readonly made = output<PasteCell[]>();
  readonly left = output<void>();
  /** It has gone out of sight, and whatever had the keys in it. */
  readonly gone = output<void>();
  private readonly first = viewChild('first', { read: ElementRef<HTMLElement> });
  private readonly view = inject(LedgerView);
  protected readonly shown = SHOWN;
  private readonly cells = computed(() => this.preview()?.plan.cells ?? []);
  protected readonly total = computed(() => this.cells().filter((c) => c.kind !== 'same').length);
  protected readonly kinds = computed(() =>
    KINDS.map((k) => {
      const cells = this.cells().filter((c) => c.kind === k.kind);
      return { ...k, cells, first: cells.slice(0, SHOWN) };
    }).filter((k) => k.cells.length > 0),
  );

  constructor() {
    // As soon as it is drawn, not once it has come to rest: the next key may be there by then.
    afterRenderEffect(() => (this.first()?.nativeElement as HTMLElement | undefined)?.querySelector('button')?.focus());
  }

  protected count(kind: PasteCell['kind']): number {
    return this.cells().filter((c) => c.kind === kind).length;
  }

  protected where(c: PasteCell): string {
    const person = this.view.store.people().get(c.target.student);
    return `${person?.family ?? ''}, ${this.view.store.assessments().get(c.target.item)?.title ?? ''}`;
  }

  protected all(): void {
    this.made.emit(this.cells());
  }

  protected onlyNew(): void {
    this.made.emit(this.cells().filter((c) => c.kind === 'new' || c.kind === 'same'));
  }
}
