import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { Counted, Form } from '../../../ui/text/counted';
import { listAreas } from '@core/policy/words';
import type { PolicyRollout, RolloutBook, RolloutMovers } from '@contract/policy';
import { Api, messageOf } from '../../../data/api';
import { MoversTable, type MoverRow } from '../../../ui/layout/movers-table';

/** What comes of each book: who would move in it, what it departs in, or why it cannot take the rules on. */
@Component({
  selector: 'lt-policy-rollout',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, Form, MoversTable],
  template: `
    @if (rollout().kind === 'trial') {
      <p class="counts">
        <span
          ><b>{{ sums().down }}</b> go down</span
        >
        <span
          ><b>{{ sums().up }}</b> go up</span
        >
        <span class="plum"
          ><b>{{ sums().crossing }}</b> change letter</span
        >
      </p>
    }
    @if (sums().readers > 0) {
      <p class="notice">
        <b>{{ sums().readers }} of them {{ sums().readers | form: 'has' : 'have' }} read a standing.</b> It stays as it
        was released until their teacher releases with today’s rules; then they are told.
      </p>
    }
    <ul class="books">
      @for (b of books(); track b.book) {
        <li>
          @if (moves(b) > 0) {
            <button type="button" class="line" [attr.aria-expanded]="open() === b.book" (click)="show(b.book)">
              <b>{{ b.title }}</b>&ngsp;
              <span>{{ says(b) }}</span>
            </button>
          } @else {
            <p class="line" [class.problem]="b.state === 'refused'">
              <b>{{ b.title }}</b>&ngsp;
              <span [class.quiet]="b.state !== 'refused'">{{ says(b) }}</span>
            </p>
          }
          @if (open() === b.book) {
            @if (problem()) {
              <p class="problem" role="alert">{{ problem() }}</p>
            }
            @if (movers(); as list) {
              <lt-movers-table [rows]="list" [unlisted]="moves(b) - list.length" />
            }
          }
        </li>
      }
    </ul>
    @if (quiet() > 0) {
      <p class="quiet">
        {{ quiet() | counted: 'book stays' : 'books stay' }} as {{ quiet() | form: 'it is' : 'they are' }}.
      </p>
    }
  `,
  styles: `
    .counts {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
      padding: 6px 0 4px;
    }
    .counts b {
      font: 700 16px var(--mono);
    }
    ul {
      list-style: none;
      margin: 8px 0;
      padding: 0;
    }
    li {
      border-bottom: 1px solid var(--rule);
    }
    .line {
      display: grid;
      width: 100%;
      margin: 0;
      padding: 6px 0;
      border: 0;
      background: none;
      text-align: left;
      color: inherit;
      overflow-wrap: anywhere;
    }
    button.line {
      cursor: pointer;
    }
    button.line b {
      color: var(--teal);
    }
    .line.problem b {
      color: inherit;
    }
    lt-movers-table {
      display: block;
      margin-bottom: 10px;
    }
  `,
})
export class PolicyRolloutView {
  readonly rollout = input.required<PolicyRollout>();
  private readonly api = inject(Api);
  protected readonly open = signal('');
  protected readonly movers = signal<MoverRow[] | null>(null);
  protected readonly problem = signal('');

  protected readonly sums = computed(() => {
    const sum = (pick: 'up' | 'down' | 'crossing' | 'readers'): number =>
      this.rollout().books.reduce((n, b) => n + b[pick], 0);
    return { up: sum('up'), down: sum('down'), crossing: sum('crossing'), readers: sum('readers') };
  });
  protected readonly moves = (b: RolloutBook): number => b.up + b.down;
  /** What cannot take the rules on first, then those in which most move; those that stay are only counted. */
  protected readonly books = computed(() =>
    this.rollout()
      .books.filter((b) => b.state !== 'waits' && (b.state !== 'stays' || b.departs.length > 0))
      .sort(
        (a, b) =>
          Number(b.state === 'refused') - Number(a.state === 'refused') ||
          this.moves(b) - this.moves(a) ||
          a.title.localeCompare(b.title),
      ),
  );
  protected readonly quiet = computed(
    () => this.rollout().books.filter((b) => b.state === 'stays' && b.departs.length === 0).length,
  );

  protected says(b: RolloutBook): string {
    if (b.state === 'refused') return `cannot take this on. ${b.says}`;
    const departs = b.departs.length > 0 ? `departs in ${listAreas(b.departs.map((matter) => ({ matter })))}` : '';
    if (this.rollout().kind === 'make')
      return [b.state === 'takes' ? 'has taken it on' : 'stays as it is', departs].filter(Boolean).join('; ');
    const n = this.moves(b);
    const moves = n === 0 ? 'nobody moves' : `${n} of ${b.students} move: ${b.up} up, ${b.down} down`;
    const letters = b.crossing > 0 ? `${b.crossing} change letter` : '';
    return [b.state === 'stays' ? 'stays as it is' : moves, letters, departs].filter(Boolean).join('; ');
  }

  protected async show(book: string): Promise<void> {
    this.movers.set(null);
    this.problem.set('');
    if (this.open() === book) return this.open.set('');
    this.open.set(book);
    try {
      const movers = await this.api.get<RolloutMovers>(`/school-rules/rollouts/${this.rollout().id}/books/${book}`);
      if (this.open() === book)
        this.movers.set(movers.map(({ enrolment, ...m }) => ({ id: enrolment, why: '', ...m })));
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }
}
