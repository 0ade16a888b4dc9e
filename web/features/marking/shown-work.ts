import { computed, inject, Injectable, linkedSignal } from '@angular/core';
import type { Submission } from '@contract/work/submissions';
import { ArrivalList } from '../../data/work/arrival-list';
import type { MenuLine } from '../../ui/form/menu-word';
import { dayAndTime } from '../../ui/text/dates';
import { Examples } from './examples';
import { MarkingList } from './list/marking-list';
import { rowWords } from './list/marking-rows';

/** What stands beside the work that is marked, by the id of its submission. */
interface Beside {
  as: 'attempt' | 'example';
  id: string;
}

/** Of the list of examples: the work that is looked at. */
const PIN = 'this';

/** The work that lies before one: which attempt of whoever is looked at, and what stands beside it. For one page. */
@Injectable()
export class ShownWork {
  private readonly list = inject(ArrivalList);
  private readonly people = inject(MarkingList);
  readonly examples = inject(Examples);
  /** What was handed in, the latest first; where nothing was, what was begun or taken back. */
  readonly attempts = computed((): Submission[] => {
    const all = this.people.current()?.submissions ?? [];
    const handedIn = all.filter((s) => s.state === 'handed-in').toReversed();
    return handedIn.length > 0
      ? handedIn
      : all.filter((s) => s.state === 'begun' || s.state === 'taken-back').slice(-1);
  });
  readonly picked = linkedSignal({ source: this.people.chosen, computation: (): string | null => null });
  readonly submission = computed(
    () => this.attempts().find((s) => s.id === this.picked()) ?? this.attempts()[0] ?? null,
  );

  /** What stands beside the work that is marked: another attempt, for this student alone, or an example. */
  readonly beside = linkedSignal<string, Beside | null>({
    source: this.people.chosen,
    computation: (_chosen, was) => (was?.value?.as === 'example' ? was.value : null),
  });
  readonly besideShown = computed(() => {
    const beside = this.beside();
    if (!beside || beside.id === this.submission()?.id) return null;
    if (beside.as === 'attempt') {
      const submission = this.attempts().find((s) => s.id === beside.id);
      return submission ? { submission, label: `attempt ${submission.attempt}, ${dayAndTime(submission.handedInAt!, this.list.zone())}` } : null; // prettier-ignore
    }
    const example = this.examples.all().find((e) => e.submission.id === beside.id);
    return example ? { submission: example.submission, label: `${example.row.name}, ${rowWords(example.row)}` } : null;
  });
  /** The examples, each to be shown, and whether what is looked at is one of them. */
  readonly exampleLines = computed((): MenuLine[] => {
    const now = this.submission();
    const pin: MenuLine[] =
      now?.state === 'handed-in' ? [{ id: PIN, kind: 'check', text: 'this work is one', on: this.examples.isPinned(now.id) }] : []; // prettier-ignore
    const others = this.examples.all().filter((e) => e.submission.id !== now?.id);
    return [
      ...pin,
      ...others.map(({ row, submission }): MenuLine => ({ id: submission.id, kind: 'act', text: row.name, more: rowWords(row) })), // prettier-ignore
    ];
  });

  chooseExample(id: string): void {
    const now = this.submission();
    if (id !== PIN) this.beside.set({ as: 'example', id });
    else if (now) this.examples.toggle(now.id);
  }

  /** The attempt that one would look at beside another: the one before it, of the first the next. */
  besides(s: Submission): Submission | null {
    const all = this.attempts().filter((a) => a.state === 'handed-in');
    const at = all.indexOf(s);
    return at < 0 ? null : (all[at + 1] ?? all[at - 1] ?? null);
  }
}
