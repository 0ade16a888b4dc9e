import { ChangeDetectionStrategy, Component, computed, inject, input, output, resource, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Checkbox } from 'primeng/checkbox';
import { Dialog } from 'primeng/dialog';
import { RELEASE_PARTS, type ReleasePart } from '@contract/slips';
import type { Released, WithdrawWrite } from '@contract/statements';
import { messageOf } from '../data/api';
import { BookStore } from '../data/book';
import { BY_VALUE } from '../data/by-value';
import { Operations } from '../data/operations';
import { Slips } from '../data/work/slips';
import { Counted } from '../ui/text/counted';
import { titlesOf, type ReleaseColumn } from './release-columns';
import { listName } from '../ui/text/list-name';

/** Names that are said; the rest is counted. */
const MOST_NAMES = 8;

/** What is about to be hidden again from whom, and who of them has opened it already. */
@Component({
  selector: 'lt-withdraw-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Checkbox, Counted, Dialog, FormsModule],
  templateUrl: './withdraw-dialog.html',
  styleUrl: './release-dialog.css',
  host: { '(document:keydown)': 'key($event)' },
})
export class WithdrawDialog {
  /** One assessment or several, each from its students. */
  readonly columns = input.required<readonly ReleaseColumn[]>();
  /** How many do not see it any more. */
  readonly withdrawn = output<number>();
  readonly gone = output();
  protected readonly store = inject(BookStore);
  private readonly operations = inject(Operations);
  private readonly slips = inject(Slips);
  protected readonly busy = signal(false);
  private readonly failure = signal('');
  protected readonly hidden = signal<ReadonlySet<ReleasePart>>(new Set(RELEASE_PARTS));
  protected readonly titles = computed(() => titlesOf(this.columns(), this.store.assessments()));
  // News of the book that leave this as it is ask nothing again: while that goes on nothing can be clicked.
  private readonly states = resource({
    params: computed(() => ({ book: this.store.id(), columns: this.columns() }), BY_VALUE),
    loader: ({ params: { book, columns } }) =>
      Promise.all(columns.map(async (c) => ({ ...c, states: await this.slips.states(book, c.assessment) }))),
  });
  protected readonly problem = computed(
    () => this.failure() || (this.states.error() ? messageOf(this.states.error()) : ''),
  );
  /** Of each assessment those who see something of it; null: not known yet. */
  private readonly out = computed(() =>
    this.states.hasValue()
      ? this.states.value()!.map(({ assessment, enrolments, states }) => {
          const those = new Set(enrolments);
          return { assessment, seers: states.students.filter((s) => those.has(s.enrolment) && s.releasedAt !== null) };
        })
      : null,
  );
  private readonly seers = computed(() => (this.out() ?? []).flatMap((c) => c.seers));
  /** How many people see something of it; null: not known yet. */
  protected readonly people = computed(() =>
    this.out() === null ? null : new Set(this.seers().map((s) => s.enrolment)).size,
  );
  /** Parts that any of them sees. */
  protected readonly parts = computed(() =>
    RELEASE_PARTS.filter((p) => this.seers().some((s) => s[p] === 'released' || s[p] === 'changed')),
  );
  protected readonly looked = computed(() => [
    ...new Set(this.seers().flatMap((s) => (s.opened === null ? [] : [s.enrolment]))),
  ]);
  protected readonly names = computed(() => {
    const names = this.looked().map((enrolment) => {
      const p = this.store.people().get(enrolment);
      return p ? listName(p) : '';
    });
    const more = names.length - MOST_NAMES;
    return more > 0 ? `${names.slice(0, MOST_NAMES).join('; ')} and ${more} more` : names.join('; ');
  });
  protected readonly ready = computed(() => this.seers().length > 0 && this.parts().some((p) => this.hidden().has(p)));

  protected hide(part: ReleasePart, on: boolean): void {
    this.hidden.update((was) => {
      const next = new Set(was);
      if (on) next.add(part);
      else next.delete(part);
      return next;
    });
  }

  protected key(event: KeyboardEvent): void {
    if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey) || event.repeat) return;
    event.preventDefault();
    event.stopPropagation();
    void this.withdraw();
  }

  protected async withdraw(): Promise<void> {
    if (this.busy() || !this.ready()) return;
    this.busy.set(true);
    this.failure.set('');
    const [first, ...also] = this.out()!.flatMap(({ assessment, seers }) =>
      seers.length > 0 ? [{ assessment, enrolments: seers.map((s) => s.enrolment) }] : [],
    );
    const write: Omit<WithdrawWrite, 'operation'> = {
      ...first!,
      ...(also.length > 0 ? { also } : {}),
      parts: this.parts().filter((p) => this.hidden().has(p)),
    };
    try {
      const done = await this.operations.submit<Released>('POST', `/books/${this.store.id()}/withdraw`, write);
      await this.store.reload();
      this.withdrawn.emit(done.people);
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
