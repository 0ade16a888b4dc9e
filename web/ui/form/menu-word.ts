import { CdkMenu, CdkMenuItem, CdkMenuItemCheckbox, CdkMenuItemRadio, CdkMenuTrigger } from '@angular/cdk/menu';
import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** One line of a menu. `choice`: one of several; `check`: on or off; `act`: does something; `head`: words above others. */
export interface MenuLine {
  id: string;
  text: string;
  kind: 'choice' | 'check' | 'act' | 'head';
  on?: boolean;
  disabled?: boolean;
  /** Small words behind. */
  more?: string;
}

/** A word that opens a menu; every key as menus have them. */
@Component({
  selector: 'lt-menu-word',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkMenuTrigger, CdkMenu, CdkMenuItem, CdkMenuItemRadio, CdkMenuItemCheckbox],
  template: `
    <button type="button" class="word" [class.set]="set()" [cdkMenuTriggerFor]="lines" [title]="title()">
      {{ text() }}
    </button>
    <ng-template #lines>
      <div cdkMenu class="menu" [attr.aria-label]="title() || text()">
        @for (l of entries(); track l.id) {
          @switch (l.kind) {
            @case ('head') {
              <div class="head" role="presentation">{{ l.text }}</div>
            }
            @case ('choice') {
              <button
                type="button"
                cdkMenuItemRadio
                [cdkMenuItemChecked]="l.on === true"
                [cdkMenuItemDisabled]="l.disabled === true"
                (cdkMenuItemTriggered)="chosen.emit(l.id)"
              >
                <i>{{ l.on ? '✓' : '' }}</i><span>{{ l.text }}</span
                ><small>{{ l.more }}</small>
              </button>
            }
            @case ('check') {
              <button
                type="button"
                cdkMenuItemCheckbox
                [cdkMenuItemChecked]="l.on === true"
                [cdkMenuItemDisabled]="l.disabled === true"
                (cdkMenuItemTriggered)="chosen.emit(l.id)"
              >
                <i>{{ l.on ? '✓' : '' }}</i><span>{{ l.text }}</span
                ><small>{{ l.more }}</small>
              </button>
            }
            @default {
              <button
                type="button"
                cdkMenuItem
                [cdkMenuItemDisabled]="l.disabled === true"
                (cdkMenuItemTriggered)="chosen.emit(l.id)"
              >
                <i></i><span>{{ l.text }}</span
                ><small>{{ l.more }}</small>
              </button>
            }
          }
        }
      </div>
    </ng-template>
  `,
  styles: `
    .word {
      white-space: nowrap;
      max-width: var(--word-most, none);
      overflow: hidden;
      text-overflow: ellipsis;
      vertical-align: bottom;
    }
    .word.set {
      color: var(--plum);
      border-bottom-color: var(--plum);
    }
    .menu {
      display: grid;
      min-width: 200px;
      max-width: 340px;
      max-height: 70vh;
      overflow: auto;
      padding: 6px 0;
      background: var(--paper);
      border: 1px solid var(--rule);
      border-radius: 6px;
      box-shadow: 0 8px 24px #14323a2e;
    }
    .menu button {
      display: grid;
      grid-template-columns: 16px 1fr auto;
      gap: 6px;
      align-items: baseline;
      padding: 4px 14px 4px 10px;
      border: 0;
      background: none;
      text-align: left;
      cursor: pointer;
    }
    .menu button:hover,
    .menu button:focus-visible {
      background: var(--marker);
      outline: none;
    }
    .menu button[aria-disabled='true'] {
      color: var(--pencil);
      cursor: default;
    }
    .menu span {
      overflow-wrap: anywhere;
    }
    i {
      font-style: normal;
      color: var(--teal);
      font-weight: 700;
    }
    small {
      font-size: 11px;
      color: var(--pencil);
    }
    .head {
      padding: 8px 14px 2px 32px;
      font-size: 11px;
      color: var(--pencil);
    }
  `,
})
export class MenuWord {
  readonly text = input.required<string>();
  readonly title = input('');
  /** Something else than usual is chosen. */
  readonly set = input(false);
  readonly entries = input.required<readonly MenuLine[]>();
  readonly chosen = output<string>();
}
