import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { Textarea } from 'primeng/textarea';
import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import type { Group, LateRule, Scale } from '@core/book/document';
import type { Trial } from '@core/trial/compare';
import type { RulesState } from '@contract/books';
import { Api, ApiProblem, newOperation, saysOf } from '../state/api';
import { BookStore } from '../state/book';
import { Foot } from '../state/foot';
import { ChoiceWord } from './choice-word';
import { NumberWord } from './number-word';
import * as words from './rule-words';
import { TrialPanel } from '../ui/trial-panel';

const PARTS = ['Weights', 'Blanks', 'Lateness', 'Drops', 'Rounding', 'Letters'] as const;

/** The rules as sentences. A change is a trial until it is made, with a reason. */
@Component({
  selector: 'lt-rules',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FormsModule, Button, Textarea, NumberWord, ChoiceWord, TrialPanel],
  templateUrl: './rules.html',
  styleUrl: './rules.css',
  host: { '(keydown)': 'key($event)' },
})
export class RulesPage {
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly foot = inject(Foot);
  protected readonly parts = PARTS;
  protected readonly part = signal<(typeof PARTS)[number]>('Weights');
  /** The rules with the changes that are tried; null: none. */
  protected readonly tried = signal<RulesPart | null>(null);
  protected readonly trial = signal<Trial | null>(null);
  protected readonly problems = signal<string[]>([]);
  protected readonly took = signal(0);
  protected readonly asking = signal(false);
  protected readonly reason = signal('');
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  protected readonly theirs = signal<RulesState | null>(null);
  private turn = 0;

  protected readonly rules = computed(() => this.tried() ?? this.store.rules());
  protected readonly categories = computed(() => (this.rules() ? words.categoriesOf(this.rules()!) : []));
  protected readonly weights = computed(() => words.weightsSay(this.categories()));
  protected readonly late = computed(() => (this.rules() ? words.bookLate(this.rules()!) : null));
  protected readonly blank = computed(() => (this.rules() ? words.bookBlank(this.rules()!) : null));
  /** The rules in force, beside what is tried. */
  protected readonly nowLate = computed(() => (this.store.rules() ? words.bookLate(this.store.rules()!) : null));
  protected readonly nowBlank = computed(() => (this.store.rules() ? words.bookBlank(this.store.rules()!) : null));
  protected readonly nowBlankPercent = computed(() => {
    const after = this.nowBlank()?.afterDue;
    return after === undefined || after === 'skip' ? undefined : after.percent;
  });
  protected readonly bands = computed(() =>
    this.rules() ? [...(words.bookScale(this.rules()!)?.bands ?? [])].sort((a, b) => b.from - a.from) : [],
  );
  protected readonly fixed = computed(() => !this.store.mayManage());
  protected readonly names = computed(() =>
    Object.fromEntries([...this.store.people()].map(([id, p]) => [id, p.given ? `${p.family}, ${p.given}` : p.family])),
  );
  protected readonly ownLate = computed(() =>
    this.categories()
      .filter((c) => c.late !== undefined)
      .map((c) => titleOf(c)),
  );
  protected readonly changed = computed(() => {
    const now = this.store.rules();
    const next = this.tried();
    const set = new Set<string>();
    if (!now || !next) return set;
    if (canonical(words.bookLate(now)) !== canonical(words.bookLate(next))) set.add('Lateness');
    if (canonical(words.bookBlank(now)) !== canonical(words.bookBlank(next))) set.add('Blanks');
    if (canonical(now.rounding) !== canonical(next.rounding)) set.add('Rounding');
    if (canonical(words.bookScale(now)) !== canonical(words.bookScale(next))) set.add('Letters');
    words.categoriesOf(next).forEach((c, i) => {
      const was = words.categoriesOf(now)[i];
      if (c.weight !== was?.weight || c.combine !== was?.combine) set.add('Weights');
      if (canonical(c.drop ?? {}) !== canonical(was?.drop ?? {})) set.add('Drops');
    });
    return set;
  });

  protected readonly COMBINE = [
    { value: 'points', text: 'by their points' },
    { value: 'equal', text: 'each alike' },
    { value: 'weights', text: 'by weights of their own' },
  ];
  protected readonly BEFORE = [
    { value: 'skip', text: 'is left out' },
    { value: 'zero', text: 'counts 0' },
  ];
  protected readonly AFTER = [
    { value: 'skip', text: 'is left out too' },
    { value: 'percent', text: 'is missing and counts' },
  ];
  protected readonly LATE = [
    { value: 'yes', text: 'loses' },
    { value: 'no', text: 'loses nothing' },
  ];
  protected readonly UNIT = [
    { value: 'day', text: 'started day' },
    { value: 'hour', text: 'started hour' },
  ];
  protected readonly OF = [
    { value: 'possible', text: 'points possible' },
    { value: 'earned', text: 'points earned' },
  ];
  protected readonly MODE = [
    { value: 'half-up', text: 'a half goes up' },
    { value: 'half-even', text: 'a half goes to the even digit' },
    { value: 'down', text: 'always down' },
  ];
  protected readonly LOOK = [
    { value: 'rounded', text: 'rounded' },
    { value: 'exact', text: 'exact' },
  ];
  protected readonly w = words;

  constructor() {
    effect(() => {
      const tried = this.tried();
      const makes = this.store.mayManage();
      untracked(() => {
        this.foot.tell(
          tried
            ? `${this.part()} · trial not yet made`
            : makes
              ? 'Change a word: the trial shows who would move.'
              : 'The rules of this book. Its teachers change them.',
        );
        this.foot.keys.set(
          makes
            ? [
                { key: 'Tab', does: 'next word' },
                { key: '↑ ↓', does: 'change it' },
                ...(tried ? [{ key: 'Ctrl+Enter', does: 'make it the rule' }] : []),
              ]
            : [],
        );
      });
    });
  }

  protected title(c: Parameters<typeof titleOf>[0]): string {
    return titleOf(c);
  }

  protected nowCategory(id: string): Group | undefined {
    return this.store.rules() ? words.categoriesOf(this.store.rules()!).find((c) => c.id === id) : undefined;
  }

  protected stepsOf(rule: LateRule): string {
    const steps = (rule.steps ?? []).map((s) => `${s.deduct} % up to ${s.hours} h`);
    return [...steps, `${rule.after ?? 0} % after that`].join(', ');
  }

  protected dropOf(c: Group, lowest: number): Group['drop'] {
    const highest = c.drop?.highest ?? 0;
    return lowest === 0 && highest === 0 ? undefined : { lowest, ...(highest > 0 ? { highest } : {}) };
  }

  protected readonly scaleLook = computed(() =>
    this.rules() ? (words.bookScale(this.rules()!)?.lookUp ?? 'rounded') : 'rounded',
  );

  protected bandsWith(label: string, from: number): Scale['bands'] {
    return words.bookScale(this.rules()!)!.bands.map((b) => (b.label === label ? { ...b, from } : b));
  }

  /** Puts a change on trial. One that leads back to the rules as they are ends the trial. */
  protected try(next: RulesPart): void {
    const same = canonical(next) === canonical(this.store.rules());
    this.failure.set('');
    this.tried.set(same ? null : next);
    void this.workOut();
  }

  private async workOut(): Promise<void> {
    const tried = this.tried();
    const turn = ++this.turn;
    if (!tried) {
      this.trial.set(null);
      this.problems.set([]);
      return;
    }
    const from = performance.now();
    try {
      const { trial, problems } = await this.store.worker().trial(tried);
      if (turn !== this.turn) return;
      this.took.set(Math.max(1, Math.round(performance.now() - from)));
      this.trial.set(problems.length === 0 ? trial : null);
      this.problems.set(problems);
    } catch (error) {
      if (turn === this.turn) this.failure.set(saysOf(error));
    }
  }

  protected drop(): void {
    this.tried.set(null);
    this.asking.set(false);
    this.failure.set('');
    this.theirs.set(null);
    void this.workOut();
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey) && this.tried() && this.problems().length === 0) {
      event.preventDefault();
      // The word that is being changed is taken in first.
      (document.activeElement as HTMLElement | null)?.dispatchEvent(new Event('change', { bubbles: true }));
      if (this.asking()) void this.make();
      else this.asking.set(true);
    } else if (event.key === 'Escape' && this.asking()) this.asking.set(false);
  }

  protected async make(): Promise<void> {
    const rules = this.tried();
    if (!rules || this.busy()) return;
    this.busy.set(true);
    this.failure.set('');
    try {
      const version = this.store.page()!.rulesVersion;
      await this.api.send<RulesState>('PUT', `/books/${this.store.id()}/rules`, {
        operation: newOperation(),
        version,
        reason: this.reason().trim(),
        rules,
      });
      const moved = this.trial()?.movers.length ?? 0;
      this.asking.set(false);
      this.reason.set('');
      this.tried.set(null);
      this.trial.set(null);
      await this.store.reload();
      this.foot.tell(`The rule is made. ${moved} ${moved === 1 ? 'student has' : 'students have'} moved.`);
    } catch (error) {
      this.failure.set(saysOf(error));
      if (error instanceof ApiProblem && error.code === 'stale') this.theirs.set(error.now as RulesState);
    } finally {
      this.busy.set(false);
    }
  }

  /** After somebody else changed the rules: theirs are loaded, and what one had tried is dropped. */
  protected async lookAtTheirs(): Promise<void> {
    this.drop();
    await this.store.reload();
  }
}

function titleOf(group: { id: string; info?: unknown }): string {
  const info = group.info as { title?: unknown } | undefined;
  return typeof info?.title === 'string' ? info.title : group.id;
}
