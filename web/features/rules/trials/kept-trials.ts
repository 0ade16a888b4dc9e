import { inDecimals } from '../../../ui/text/locale';
import { ChangeDetectionStrategy, Component, computed, effect, inject, output, signal, untracked } from '@angular/core';
import { ROWS } from '../../../ui/layout/rows';
import type { Trial } from '@core/proposal/compare';
import type { KeptTrial } from '@contract/rules';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { RuleEdit } from '../rule-edit';
import { KeptTrialsStore } from './kept-trials-store';
import { listName } from '../../../ui/text/list-name';

interface Column {
  kept: KeptTrial;
  trial: Trial | null;
  /** Why it cannot be worked out any more. */
  problem: string;
}

/** Trials kept beside the rules, side by side: who would stand where in each. */
@Component({
  selector: 'lt-kept-trials',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ROWS],
  templateUrl: './kept-trials.html',
  styleUrls: ['../sentences/view/part-head.css', './kept-trials.css'],
})
export class KeptTrials {
  protected readonly edit = inject(RuleEdit);
  protected readonly kept = inject(KeptTrialsStore);
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  readonly takenUp = output();
  protected readonly columns = signal<Column[]>([]);
  protected readonly failure = signal('');
  protected readonly version = computed(() => this.store.page()?.rulesVersion ?? 0);
  protected readonly rows = computed(() => {
    const columns = this.columns();
    const people = this.store.people();
    return this.store.students().flatMap((id, s) => {
      const cells = columns.map((c) => {
        const mover = c.trial?.movers.find((m) => m.student === id);
        return mover
          ? {
              text: inDecimals(mover.after.percent ?? 'none'),
              letter: mover.after.letter ?? '',
              crosses: mover.crosses,
            }
          : null;
      });
      if (cells.every((c) => c === null)) return [];
      const now = this.store.standings()[s];
      const p = people.get(id);
      return [
        {
          id,
          name: p ? listName(p) : id,
          now: inDecimals(now?.percent ?? 'none'),
          letter: now?.letter ?? '',
          cells,
        },
      ];
    });
  });

  constructor() {
    effect(() => {
      const list = this.kept.list();
      const now = this.edit.now();
      // Standings change as scores come: what each trial would do is worked out on today's.
      this.store.revision();
      if (now) untracked(() => void this.workOut(list));
    });
  }

  private async workOut(list: readonly KeptTrial[]): Promise<void> {
    const columns: Column[] = [];
    try {
      for (const kept of list) {
        const { trial, problems } = await this.store.worker().trial(this.edit.wishFrom(kept.body));
        columns.push({ kept, trial: problems.length === 0 ? trial : null, problem: problems[0]?.says ?? '' });
      }
      if (this.kept.list() === list) this.columns.set(columns);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  protected print(): void {
    globalThis.print();
  }

  protected takeUp(kept: KeptTrial): void {
    this.edit.load(kept.body);
    this.takenUp.emit();
  }

  protected async drop(kept: KeptTrial): Promise<void> {
    this.failure.set('');
    try {
      await this.api.send('DELETE', `/books/${this.store.id()}/trials/${kept.id}`, {});
      await this.kept.load();
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }
}
