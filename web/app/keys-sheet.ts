import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Dialog } from 'primeng/dialog';
import { onDocument } from '../ui/layout/document-events';
import { StatusBar } from '../ui/layout/status-bar';

const EVERYWHERE = {
  title: 'Everywhere',
  keys: [
    { key: 'Ctrl K', label: 'jump to a student, an assessment, a page, a book or an action' },
    { key: '?', label: 'this sheet' },
    { key: 'Esc', label: 'leave what is open' },
  ],
};

/** A sheet of all keys that work on the page. */
@Component({
  selector: 'lt-keys-sheet',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Dialog],
  template: `
    @defer (when statusBar.sheetOpen(); prefetch on timer(2s)) {
      <p-dialog
        header="All keys"
        [modal]="true"
        closeAriaLabel="Leave it"
        [visible]="statusBar.sheetOpen()"
        (visibleChange)="statusBar.sheetOpen.set($event)"
        [style]="{ width: '46rem' }"
      >
        @for (part of parts(); track part.title) {
          <h3>{{ part.title }}</h3>
          <dl>
            @for (k of part.keys; track k.key) {
              <div>
                <dt>
                  <kbd>{{ k.key }}</kbd>
                </dt>
                <dd>{{ k.label }}</dd>
              </div>
            }
          </dl>
        }
      </p-dialog>
    }
  `,
  styles: `
    h3 {
      margin: 10px 0 6px;
    }
    dl {
      margin: 0;
      columns: 2;
      column-gap: 28px;
    }
    div {
      display: grid;
      grid-template-columns: 118px 1fr;
      gap: 10px;
      padding: 3px 0;
      break-inside: avoid;
    }
    dd {
      margin: 0;
    }
    kbd {
      font: 12px var(--mono);
      background: var(--bar);
      border-radius: 4px;
      padding: 1px 5px;
    }
    @media (max-width: 700px) {
      dl {
        columns: 1;
      }
    }
  `,
})
export class KeysSheet {
  protected readonly statusBar = inject(StatusBar);
  protected readonly parts = computed(() => [...this.statusBar.sheet().filter((s) => s.keys.length > 0), EVERYWHERE]);

  constructor() {
    onDocument('keydown', (event) => this.key(event));
  }

  /** Not while something is typed: there a question mark is one. */
  private key(event: KeyboardEvent): void {
    const at = event.target as HTMLElement;
    if (event.key !== '?' || event.defaultPrevented || at.closest('input, textarea, select, [contenteditable]')) return;
    event.preventDefault();
    this.statusBar.sheetOpen.set(true);
  }
}
