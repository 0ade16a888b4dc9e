import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { counted } from '@core/words/count';
import type { RubricMove } from '@contract/work/marking';
import { BookStore } from '../../data/book';
import { inDecimals } from '../../ui/text/locale';
import { listName } from '../../ui/text/list-name';

/** Rows that are drawn; the rest is counted. */
const DRAWN = 200;

/** What a changed rubric would do: whose score moves, and whose work it concerns. */
@Component({
  selector: 'lt-rubric-trial',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>What it changes</h2>
    <p>{{ words() }}</p>
    @if (rows().length > 0) {
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Student</th>
            <th scope="col" class="right">now → then</th>
          </tr>
        </thead>
        <tbody>
          @for (r of rows(); track r.key) {
            <tr>
              <td>
                {{ r.name }}
                @if (r.says) {
                  <small class="quiet">{{ r.says }}</small>
                }
              </td>
              <td class="right mono move">
                @if (r.from === r.to) {
                  {{ r.to }}
                } @else {
                  {{ r.from }} → <b>{{ r.to }}</b>
                }
              </td>
            </tr>
          }
        </tbody>
      </table>
      @if (moves().length > rows().length) {
        <p class="quiet">and {{ moves().length - rows().length }} more</p>
      }
    }
  `,
  styles: `
    .move {
      white-space: nowrap;
    }
    small {
      display: block;
    }
  `,
})
export class RubricTrialList {
  readonly moves = input.required<RubricMove[]>();
  private readonly store = inject(BookStore);

  protected readonly words = computed(() => {
    const moving = this.moves().filter((m) => m.from !== m.to).length;
    const all = this.moves().length;
    if (all === 0) return 'Nobody’s score, and no work that is marked.';
    return `${moving === 0 ? 'No score moves' : `${counted(moving, 'score moves', 'scores move')}`}; it concerns ${counted(all, 'piece of work', 'pieces of work')} that ${all === 1 ? 'is' : 'are'} marked.`;
  });

  protected readonly rows = computed(() =>
    this.moves()
      .map((m) => {
        const p = this.store.people().get(m.enrolment);
        return {
          key: `${m.enrolment} ${m.work}`,
          name: p ? listName(p) : '',
          from: m.from === null ? '–' : inDecimals(String(m.from)),
          to: m.to === null ? '–' : inDecimals(String(m.to)),
          says: [
            m.held ? 'typed in the place of the sum: it stays' : '',
            m.gone.length > 0 ? 'its level is taken out' : '',
            m.released && m.from !== m.to ? 'students see it as it was until it is released anew' : '',
          ]
            .filter(Boolean)
            .join('; '),
        };
      })
      .sort((a, b) => a.name.localeCompare(b.name))
      .slice(0, DRAWN),
  );
}
