import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal } from '@angular/core';
import type { EntryContent } from '@core/book/change';
import type { JournalPage, JournalSet } from '@contract/history';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { day } from '../../../ui/text/dates';
import { lineWords, type Names } from '../../../ui/text/journal/journal-words';
import type { Place } from './cell-inspector';

interface Told {
  seq: number;
  when: string;
  by: string;
  what: string;
  was: string;
  becomes: string;
  reason: string;
  /** What the cell held after it, where it can be made so again. */
  content: EntryContent | null;
}

interface Page {
  lines: Told[];
  before: number | null;
}

/** Everything that happened to a cell, the latest first, each to be made so again. */
@Component({
  selector: 'lt-cell-history',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (problem()) {
      <p class="problem" role="alert">{{ problem() }}</p>
    } @else if (!lines()) {
      <p class="quiet">Looking into the journal …</p>
    } @else {
      <ol>
        @for (l of lines(); track l.seq; let first = $first) {
          <li>
            <p>
              <b>{{ l.becomes }}</b><span class="quiet">was {{ l.was }}</span>
            </p>
            <small
              >{{ l.when }} · {{ l.by }}{{ l.what ? ' · ' + l.what : '' }}{{ l.reason ? ' · ' + l.reason : '' }}</small
            >
            @if (l.content && !first && store.mayScore()) {
              <button type="button" class="word" (click)="again.emit(l.content)">make it this again</button>
            }
          </li>
        } @empty {
          <li class="quiet">Nothing has happened to this cell yet.</li>
        }
      </ol>
      @if (before() !== null) {
        <button type="button" class="word" (click)="older()">show what was before</button>
      }
    }
  `,
  styles: `
    ol {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      padding: 8px 0;
      border-top: 1px dotted var(--rule);
    }
    p {
      display: flex;
      justify-content: space-between;
      gap: 10px;
    }
    b {
      overflow-wrap: anywhere;
    }
    small {
      display: block;
      font-size: 11px;
      color: var(--pencil);
    }
  `,
})
export class CellHistory {
  readonly place = input.required<Place>();
  /** Grows when the cell has changed. */
  readonly stamp = input(0);
  readonly again = output<EntryContent>();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  protected readonly lines = signal<Told[] | null>(null);
  /** Before which line there is more; null: nothing. */
  protected readonly before = signal<number | null>(null);
  protected readonly problem = signal('');

  constructor() {
    effect((onCleanup) => {
      const { student, item } = this.place();
      this.stamp();
      this.store.keeps();
      if (item === null) return this.lines.set([]);
      let gone = false;
      onCleanup(() => (gone = true));
      this.problem.set('');
      this.page(student, item, null).then(
        (page) => gone || this.shows(page),
        (error: unknown) => gone || this.problem.set(messageOf(error)),
      );
    });
  }

  /** A page of what happened, the latest first, from before a line on. */
  private async page(student: string, item: string, before: number | null): Promise<Page> {
    const query = new URLSearchParams({ enrolment: student, assessment: item });
    if (before !== null) query.set('before', String(before));
    const page = await this.api.get<JournalPage>(`/books/${this.store.id()}/journal?${query}`);
    return { lines: page.sets.flatMap((s) => this.told(s, page.notes)), before: page.before };
  }

  private shows(page: Page): void {
    this.lines.set(page.lines);
    this.before.set(page.before);
  }

  protected async older(): Promise<void> {
    const { student, item } = this.place();
    const shown = this.lines();
    if (item === null) return;
    try {
      const more = await this.page(student, item, this.before());
      // Where the cell is another by now, its own lines are shown.
      if (this.lines() === shown) this.shows({ lines: [...(shown ?? []), ...more.lines], before: more.before });
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private told(set: JournalSet, notes: Record<string, string>): Told[] {
    const zone = this.store.page()!.timeZone;
    const names: Names = { zone, student: () => '', assessment: () => '', note: (id) => notes[id] };
    return set.shown.map((line) => ({
      seq: line.seq,
      when: `${day(set.at, zone)} ${new Date(set.at).toLocaleTimeString('en-GB', { timeZone: zone })}`,
      by: set.by,
      what: SETS[set.set ?? ''] ?? KINDS[line.kind] ?? '',
      reason: set.reason,
      content: line.kind === 'cell' && line.becomes !== null ? (JSON.parse(line.becomes) as EntryContent) : null,
      ...lineWords(line, names),
    }));
  }
}

const SETS: Record<string, string> = {
  intake: 'brought in',
  paste: 'pasted',
  fill: 'filled',
  clear: 'cleared',
  undo: 'undone',
  redo: 'made again',
  restore: 'put back',
};
const KINDS: Record<string, string> = { release: 'released', withdraw: 'withdrawn', note: 'staff note' };
