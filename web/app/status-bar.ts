import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { StatusBar } from '../ui/layout/status-bar';

/** The bar at the foot: the only place for key hints. */
@Component({
  selector: 'lt-foot-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <footer
      [class.trouble]="statusBar.tone() === 'trouble'"
      [class.silent]="statusBar.message() === '' && statusBar.keys().length === 0"
    >
      <output aria-live="polite">{{ statusBar.message() }}</output>
      <ul aria-label="Keys">
        @for (k of statusBar.keys(); track k.key) {
          <li>
            <kbd>{{ k.key }}</kbd> {{ k.label }}
          </li>
        }
      </ul>
    </footer>
  `,
  styles: `
    footer {
      isolation: isolate;
      display: flex;
      align-items: center;
      gap: 16px;
      min-height: 34px;
      margin: 0 16px 8px;
      padding: 0 12px;
      background: var(--head);
      color: var(--on-head);
      border-radius: 0 0 7px 7px;
    }
    /* A phone has no room for a bar that says nothing. */
    @media (max-width: 700px) {
      .silent {
        display: none;
      }
    }
    output {
      flex: 1;
      font-weight: 700;
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .trouble output::before {
      content: '! ';
      color: var(--gold);
    }
    ul {
      display: flex;
      gap: 16px;
      list-style: none;
      margin: 0;
      padding: 0;
      color: var(--on-head-quiet);
      white-space: nowrap;
    }
    kbd {
      font: 12px var(--mono);
      background: var(--head-field);
      color: var(--on-head);
      border-radius: 4px;
      padding: 1px 6px;
      margin-right: 4px;
    }
    @media (max-width: 900px) {
      ul {
        display: none;
      }
      output {
        white-space: normal;
        padding: 6px 0;
      }
    }
    @media (max-width: 600px) {
      footer {
        margin: 0;
        border-radius: 0;
      }
    }
  `,
})
export class StatusBarView {
  protected readonly statusBar = inject(StatusBar);
}
