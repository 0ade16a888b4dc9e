import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { BookStore } from '../../../data/book';
import { Counted } from '../../../ui/text/counted';
import { Decimals } from '../../../ui/text/decimals';
import { listName } from '../../../ui/text/list-name';
import type { ActPreview } from './act-preview';

/** Students that are named; the rest is counted. */
const NAMES = 8;

/** Beside the ledger: what the word in the line would do, whose standing it would move, and the key that does it. */
@Component({
  selector: 'lt-act-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, Decimals],
  template: `
    <section aria-live="polite" aria-label="Before it is done">
      @let p = preview();
      <h2>{{ p.about }}</h2>
      <p>{{ p.does }}</p>
      @if (p.problem) {
        <p class="red">{{ p.problem }}</p>
      }
      @for (note of p.notes; track note) {
        <p class="quiet">{{ note }}</p>
      }
      @if (p.moves; as moves) {
        @if (moves.length === 0) {
          <p class="quiet">Nobody’s standing changes now.</p>
        } @else {
          <p>{{ moves.length | counted: 'standing changes' : 'standings change' }}:</p>
          <ul>
            @for (m of named(); track m.student) {
              <li>
                <span>{{ m.name }}</span>
                <span class="mono"
                  >{{ (m.before.percent | decimals) || '–' }} {{ m.before.letter ?? '' }} →
                  <b>{{ (m.after.percent | decimals) || '–' }} {{ m.after.letter ?? '' }}</b></span
                >
              </li>
            }
          </ul>
          @if (moves.length > named().length) {
            <p class="quiet">and {{ moves.length - named().length }} more</p>
          }
        }
      }
      @if (!p.problem) {
        <p class="key">
          <kbd>{{ p.key }}</kbd> does it.
        </p>
      }
    </section>
  `,
  styles: `
    section {
      border: 1px solid var(--rule);
      border-left: 3px solid var(--teal);
      background: var(--paper);
      padding: 10px 12px;
      margin-bottom: 14px;
      display: grid;
      gap: 6px;
    }
    h2 {
      font-size: 14px;
      overflow-wrap: anywhere;
    }
    ul {
      list-style: none;
      padding: 0;
      display: grid;
      gap: 2px;
    }
    li {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 8px;
    }
    li span:first-child {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .mono {
      white-space: nowrap;
      font-size: 12px;
    }
    ul,
    p {
      margin: 0;
    }
    .red {
      color: var(--red);
    }
  `,
})
export class ActBox {
  readonly preview = input.required<ActPreview>();
  private readonly store = inject(BookStore);
  protected readonly named = computed(() =>
    (this.preview().moves ?? []).slice(0, NAMES).map((m) => {
      const person = this.store.people().get(m.student);
      return { ...m, name: person ? listName(person) : '' };
    }),
  );
}
