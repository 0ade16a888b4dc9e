import { computed, inject, Injectable, signal } from '@angular/core';
import { isPolicyRule } from '@core/policy/deviations';
import type { SchoolRulesState } from '@contract/policy';
import { listAreas } from '@core/policy/words';
import { Api, messageOf } from '../../data/api';

/** Which rules an assessment may be told to go by, where the school has fixed whose they are. Each page has its own. */
@Injectable()
export class SchoolChoices {
  private readonly api = inject(Api);
  private readonly state = signal<SchoolRulesState | null>(null);
  readonly failure = signal('');
  private readonly fixed = computed(() =>
    (['late', 'blank'] as const).filter((m) => this.state()?.rules.stands[m] === 'fixed').map((matter) => ({ matter })),
  );
  /** Why some of the rules cannot be chosen; empty: all can. */
  readonly message = computed(() =>
    this.fixed().length === 0
      ? ''
      : `The school has fixed ${listAreas(this.fixed())}: only its own rules can be chosen.`,
  );

  async load(): Promise<void> {
    try {
      this.state.set(await this.api.get<SchoolRulesState>('/school-rules'));
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** A rule that would depart from what the school has fixed. `null` is no rule at all. */
  shut(set: 'late' | 'blank', name: string | null): boolean {
    const school = this.state()?.rules;
    return school?.stands[set] === 'fixed' && !isPolicyRule(school, set, name);
  }
}
