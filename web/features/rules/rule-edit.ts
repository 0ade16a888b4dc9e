import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { PlacedItem } from '@core/book/assemble';
import type { Trial } from '@core/proposal/compare';
import { settingsFor, type Proposal } from '@core/proposal/proposal';
import type { TrialBody } from '@contract/rules';
import { daysOf } from '@core/policy/apply-policy';
import { listAreas } from '@core/policy/words';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { causeWords } from './words/cause-words';
import { draftOf, isSame, proposalOf, type Draft } from './draft';
import { PARTS } from './sentences';
import { PolicyNotes } from './policy/policy-notes';
import type { Part, Sentence } from './sentences/sentence';
import { placeWarnings, type Said } from './words/warnings';
import { otherWords, sentencesOf, wordsOf } from './words/words';
import type { RulesWrite } from '@contract/rules';

/** Milliseconds that a trial stands before it is asked who is moved by what. */
const CAUSES_AFTER = 350;
const NOTHING: ReadonlySet<string> = new Set();
const NONE: ReadonlyMap<string, ReadonlySet<string>> = new Map();

/** Versions of the rules and of each assessment. */
interface Seen {
  rules: number;
  items: ReadonlyMap<string, number>;
}

/** The rules that are being read and tried on the page, with what the trial says. Each page has its own. */
@Injectable()
export class RuleEdit {
  private readonly store = inject(BookStore);
  private readonly school = inject(PolicyNotes);
  private readonly placed = signal<PlacedItem[] | null>(null);
  private readonly tried = signal<Draft | null>(null);
  readonly trial = signal<Trial | null>(null);
  readonly problems = signal<Said[]>([]);
  private readonly warned = signal<Said[]>([]);
  private readonly warnedNow = signal<Said[]>([]);
  /** Student id → what moves them, once it is known. */
  readonly why = signal<Record<string, string>>({});
  /** Milliseconds from the last change of a word to the trial's answer. */
  readonly took = signal(0);
  readonly failure = signal('');
  /** What the rules and assessments were when the trial began: what others made since is not overwritten. */
  private base: Seen | null = null;
  private running = false;
  private again = false;
  private askedAt = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** As it is in the book. */
  readonly now = computed((): Draft | null => {
    const rules = this.store.rules();
    const placed = this.placed();
    if (!rules || !placed) return null;
    const school = this.school.rules();
    return {
      ...draftOf(rules, placed, (id) => this.store.titles()[id] ?? id),
      ...(school ? { days: daysOf(school) } : {}),
    };
  });
  /** As it would be. */
  readonly draft = computed(() => this.tried() ?? this.now());
  readonly trying = computed(() => this.tried() !== null);
  /** What the change would newly depart in from the school's rules. */
  readonly departs = computed(() => {
    const [now, tried] = [this.now(), this.tried()];
    return now && tried ? this.school.fresh(now, tried) : { fixed: [], free: [] };
  });
  /** Why it cannot be made, whatever the trial shows; empty: it can. */
  readonly refused = computed(() => {
    const { fixed } = this.departs();
    return fixed.length === 0
      ? ''
      : `The school has fixed ${listAreas(fixed)}: a book may not depart from it. This can be looked at, and not made.`;
  });
  readonly fixed = computed(() => !this.store.mayManage());
  private readonly nowSentences = computed(() => sentencesOf(this.now()));
  private readonly draftSentences = computed(() => sentencesOf(this.draft()));
  private readonly nowWords = computed(() => wordsOf(this.nowSentences()));
  private readonly draftWords = computed(() => wordsOf(this.draftSentences()));
  /** Ids of parts in which something is tried. */
  readonly changed = computed(() => {
    const [now, is] = [this.nowWords(), this.draftWords()];
    return new Set(PARTS.filter((p) => now.get(p.id)?.text !== is.get(p.id)?.text).map((p) => p.id));
  });
  /** What is warned of, or wrong, beside each sentence. */
  readonly beside = computed(() => {
    const draft = this.draft();
    if (!draft) return { beside: new Map<string, string[]>(), loose: [] };
    return placeWarnings(draft, this.draftSentences(), this.tried() ? this.warned() : this.warnedNow());
  });
  readonly wrong = computed(() => {
    const draft = this.draft();
    return draft
      ? placeWarnings(draft, this.draftSentences(), this.problems())
      : { beside: new Map<string, string[]>(), loose: [] };
  });

  constructor() {
    effect(() => {
      // Whenever the book was loaded anew, its assessments and what is warned of are asked for again.
      this.store.loaded();
      if (!this.store.cells()) return;
      untracked(() => void this.look());
    });
    effect(() => {
      // Scores that come meanwhile are tried too.
      this.store.revision();
      untracked(() => {
        if (this.trying()) this.workOutAnew();
      });
    });
  }

  private async look(): Promise<void> {
    try {
      const worker = this.store.worker();
      const [placed, warned] = [await worker.placed(), await worker.warnings(null)];
      this.placed.set(placed);
      this.warnedNow.set(warned);
      // The first working-out of a book is slow; it is done before a word is changed.
      const now = this.now();
      if (now && !this.trying() && this.store.mayManage()) await worker.trial(proposalOf(now, now));
      if (this.trying()) this.workOutAnew();
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** The sentences of a kind, as they would be. */
  sentences(part: Part): Sentence[] {
    const draft = this.draft();
    return this.draftSentences().get(part.id) ?? (draft ? part.sentences(draft) : []);
  }

  /** Labels of a sentence's words that are other than in force. */
  changedIn(sentence: string): ReadonlySet<string> {
    return this.changedWords().get(sentence) ?? NOTHING;
  }

  /** Sentence id → labels of its words that are other than in force. Ids are told apart over all kinds of rules. */
  private readonly changedWords = computed(() =>
    this.trying() ? otherWords(this.draftSentences(), this.nowWords(), this.draftWords()) : NONE,
  );

  /** Puts a change on trial. One that leads back to the rules as they are ends the trial. */
  try(next: Draft): void {
    const now = this.now();
    if (!now) return;
    this.failure.set('');
    this.askedAt = performance.now();
    this.base ??= this.seen();
    this.tried.set(isSame(now, next) ? null : next);
    if (!this.trying()) this.base = null;
    this.workOut();
  }

  drop(): void {
    this.tried.set(null);
    this.base = null;
    this.failure.set('');
    this.workOut();
  }

  private seen(): Seen {
    return {
      rules: this.store.page()?.rulesVersion ?? 0,
      items: new Map([...this.store.assessments()].map(([id, a]) => [id, a.version])),
    };
  }

  /** What is tried as the server takes it, with the versions that it was tried on; null: nothing is. */
  write(): Omit<RulesWrite, 'operation' | 'reason'> | null {
    const [wish, draft, base] = [this.wish(), this.draft(), this.base];
    if (!wish || !draft || !base) return null;
    return {
      version: base.rules,
      rules: wish.rules,
      items: Object.entries(wish.items).map(([assessment, more]) => ({
        assessment,
        version: base.items.get(assessment) ?? 0,
        more,
      })),
      cells: draft.supposed
        .flatMap((s) => s.cells)
        .map(({ student, item, change, version }) => ({ assessment: item, enrolment: student, version, change })),
    };
  }

  /** What would be made; null: nothing is tried. */
  wish(): Proposal | null {
    const [now, tried] = [this.now(), this.tried()];
    return now && tried ? proposalOf(now, tried) : null;
  }

  /** What is tried, as it is kept beside; null: nothing is. */
  body(): TrialBody | null {
    const [wish, draft] = [this.wish(), this.draft()];
    return wish && draft
      ? {
          version: this.base?.rules ?? 0,
          rules: wish.rules,
          items: wish.items,
          supposed: draft.supposed,
        }
      : null;
  }

  /** Takes up what was kept. Assessments that are gone meanwhile are left out of it. */
  load(body: TrialBody): void {
    const draft = this.draftFrom(body);
    // It is looked at anew: what it does to the rules as they are now is what is seen.
    this.base = null;
    if (draft) this.try(draft);
  }

  /** Puts rules and settings from elsewhere on trial. */
  tryWish(wish: Proposal): void {
    this.load({ version: this.store.page()!.rulesVersion, rules: wish.rules, items: wish.items, supposed: [] });
  }

  wishFrom(body: TrialBody): Proposal {
    const draft = this.draftFrom(body);
    return proposalOf(this.now()!, draft!);
  }

  private draftFrom(body: TrialBody): Draft | null {
    const now = this.now();
    if (!now) return null;
    const students = new Set(this.store.students());
    const items = new Set(now.items.map((i) => i.id));
    return {
      rules: body.rules,
      items: now.items.map((i) => ({ ...i, settings: settingsFor(body.items, i.id) ?? i.settings })),
      supposed: body.supposed
        .map((s) => ({ ...s, cells: s.cells.filter((c) => students.has(c.student) && items.has(c.item)) }))
        .filter((s) => s.cells.length > 0),
    };
  }

  private workOutAnew(): void {
    this.askedAt = performance.now();
    this.workOut();
  }

  /** One trial at a time; what was changed meanwhile is worked out next, and nothing between. */
  private workOut(): void {
    clearTimeout(this.timer);
    if (this.running) {
      this.again = true;
      return;
    }
    const wish = this.wish();
    if (!wish) {
      this.trial.set(null);
      this.problems.set([]);
      this.why.set({});
      return;
    }
    this.running = true;
    void this.ask(wish).finally(() => {
      this.running = false;
      if (!this.again) return;
      this.again = false;
      this.workOut();
    });
  }

  private async ask(wish: Proposal): Promise<void> {
    try {
      const { trial, problems } = await this.store.worker().trial(wish);
      if (this.again || !this.trying()) return;
      this.took.set(Math.max(1, Math.round(performance.now() - this.askedAt)));
      this.trial.set(problems.length === 0 ? trial : null);
      this.problems.set(problems);
      this.why.set({});
      if (problems.length === 0) void this.askWarnings(wish);
      if (problems.length === 0 && trial.movers.length > 0)
        this.timer = setTimeout(() => void this.askWhy(wish), CAUSES_AFTER);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** What is to know of the rules as they would be comes right behind the trial. */
  private async askWarnings(wish: Proposal): Promise<void> {
    try {
      const warned = await this.store.worker().warnings(wish);
      if (this.trying() && !this.again) this.warned.set(warned);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  private async askWhy(wish: Proposal): Promise<void> {
    try {
      const causes = await this.store.worker().causes(wish);
      const draft = this.draft();
      if (!draft || this.wish() === null || JSON.stringify(this.wish()) !== JSON.stringify(wish)) return;
      this.why.set(Object.fromEntries(Object.entries(causes).map(([id, d]) => [id, causeWords(draft, d)])));
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }
}
