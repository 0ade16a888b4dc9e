import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { canonical } from '@core/book/canonical';
import { deviationsOf, newDeviations, type Deviation } from '@core/policy/deviations';
import { namesIn, type PolicyArea, type SchoolRules } from '@core/policy/document';
import type { BookDeviations, SchoolRulesState } from '@contract/policy';
import { Api, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import type { Draft } from '../draft';
import { plainWords, type Part, type Sentence } from '../sentences/sentence';
import { asInABook, asTheSchoolHasIt, governedIn } from './policy-draft';
import { sentencesOf } from '../words/words';

/** What each kind of rules has that a school can say. */
export const AREAS_OF: Readonly<Record<string, readonly PolicyArea[]>> = {
  blanks: ['blank'],
  lateness: ['late', 'calendar', 'allowance'],
  marks: ['marks'],
  rounding: ['rounding'],
  letters: ['letters'],
};

/** What the school says of the rules that are open, and where the book departs from it. Each page has its own. */
@Injectable()
export class PolicyNotes {
  private readonly api = inject(Api);
  private readonly store = inject(BookStore);
  readonly failure = signal('');
  private readonly state = signal<SchoolRulesState | null>(null);
  /** In what the book as it is departs, with the change that brought it. */
  readonly since = signal<BookDeviations>([]);
  readonly rules = computed((): SchoolRules | null => this.state()?.rules ?? null);
  private readonly words = computed(() => {
    const school = this.rules();
    const all = school ? [...sentencesOf(asInABook(school)).values()].flat() : [];
    return new Map(all.filter((s) => s.shared).map((s) => [s.id, plainWords(s)]));
  });

  constructor() {
    effect(() => {
      // What the office made reaches the book as a change of it, upon which it is loaded anew.
      this.store.loaded();
      if (this.store.id() && this.store.cells()) untracked(() => void this.load());
    });
  }

  private async load(): Promise<void> {
    try {
      const [state, since] = await Promise.all([
        this.api.get<SchoolRulesState>('/school-rules'),
        this.api.get<BookDeviations>(`/books/${this.store.id()}/deviations`),
      ]);
      this.state.set(state);
      this.since.set(since);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** The words of this sentence are the school's alone to change. */
  isFixed({ shared }: Sentence): boolean {
    const school = this.rules();
    if (!shared || school?.stands[shared.matter] !== 'fixed') return false;
    const { matter, place } = shared;
    if (place.kind === 'group' || place.kind === 'item') return false;
    if (place.kind !== 'rule' || matter === 'calendar') return true;
    return namesIn(school, matter === 'letters' ? 'scales' : (matter as 'late' | 'blank' | 'marks')).includes(
      place.name,
    );
  }

  /** What the school says in place of a sentence that says something else; null: nothing, or the same. */
  insteadOf(s: Sentence): string | null {
    const school = this.rules();
    if (!school || !s.shared || s.shared.silent || school.stands[s.shared.matter] === 'open') return null;
    const message = this.words().get(s.id);
    // A figure and its sign stay on one line.
    return message === undefined || message === plainWords(s) ? null : message.replaceAll(' %', '\u00a0%');
  }

  departures(draft: Draft): Deviation[] {
    const school = this.rules();
    return school ? deviationsOf(school, governedIn(draft)) : [];
  }

  /** What a change would newly depart in: in what is fixed (it cannot be made), and in what it may (it needs a reason). */
  fresh(now: Draft, draft: Draft): { fixed: Deviation[]; free: Deviation[] } {
    const school = this.rules();
    if (!school) return { fixed: [], free: [] };
    const all = newDeviations(school, governedIn(now), governedIn(draft));
    const fixed = all.filter((d) => school.stands[d.matter] === 'fixed');
    return { fixed, free: all.filter((d) => !fixed.includes(d)) };
  }

  /** How a kind of rules stands to the school's: nothing is said of it, it goes by it, or it departs, and since when. */
  standOf(part: Part, draft: Draft): { fixed: boolean; departs: boolean; since: BookDeviations } | null {
    const school = this.rules();
    const matters = (AREAS_OF[part.id] ?? []).filter((m) => school && school.stands[m] !== 'open');
    if (!school || matters.length === 0) return null;
    const own = this.departures(draft).filter((d) => matters.includes(d.matter));
    const keys = new Set(own.map((d) => canonical([d.matter, d.place])));
    const since = this.since().filter((d) => keys.has(canonical([d.departure.matter, d.departure.place])));
    return { fixed: matters.every((m) => school.stands[m] === 'fixed'), departs: own.length > 0, since };
  }

  asTheSchool(part: Part, draft: Draft): Draft {
    const school = this.rules()!;
    return asTheSchoolHasIt(
      draft,
      school,
      (AREAS_OF[part.id] ?? []).filter((m) => school.stands[m] !== 'open'),
    );
  }
}
