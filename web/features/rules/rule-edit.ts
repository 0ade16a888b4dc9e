import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { PlacedItem } from '@core/book/assemble';
import { settingsFor, type Proposal } from '@core/proposal/proposal';
import type { TrialBody } from '@contract/rules';
import { daysOf } from '@core/policy/apply-policy';
import { listAreas } from '@core/policy/words';
import { messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import { classFigures } from './class-figures';
import { draftOf, isSame, proposalOf, type Draft } from './draft';
import { PARTS } from './sentences';
import { PolicyNotes } from './policy/policy-notes';
import type { Part, Sentence } from './sentences/sentence';
import { TrialRun } from './trials/trial-run';
import { placeWarnings, type Said } from './words/warnings';
import { otherWords, sentencesOf, wordsOf } from './words/words';
import type { RulesWrite } from '@contract/rules';

const NOTHING: ReadonlySet<string> = new Set();
const NONE: ReadonlyMap<string, ReadonlySet<string>> = new Map();

/** A trial that was left, with what it was tried on. */
interface LeftTrial {
  body: TrialBody;
  items: [string, number][];
}

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
  private readonly drafts = inject(KeptDrafts);
  private readonly run = inject(TrialRun);
  readonly trial = this.run.trial;
  readonly problems = this.run.problems;
  readonly why = this.run.why;
  readonly took = this.run.took;
  readonly failure = this.run.failure;
  private readonly placed = signal<PlacedItem[] | null>(null);
  private readonly tried = signal<Draft | null>(null);
  private readonly warnedNow = signal<Said[]>([]);
  /** What the rules and assessments were when the trial began: what others made since is not overwritten. */
  private base: Seen | null = null;
  private tookUp = false;

  private readonly class = computed(() => classFigures(this.store));
  /** As it is in the book. */
  readonly now = computed((): Draft | null => {
    const rules = this.store.rules();
    const placed = this.placed();
    if (!rules || !placed) return null;
    const school = this.school.rules();
    return {
      ...draftOf(rules, placed, (id) => this.store.titles()[id] ?? id),
      ...(school ? { days: daysOf(school) } : {}),
      class: this.class(),
    };
  });
  /** As it would be. */
  readonly draft = computed(() => {
    const tried = this.tried();
    return tried ? { ...tried, class: this.class() } : this.now();
  });
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
    return placeWarnings(draft, this.draftSentences(), this.tried() ? this.run.warned() : this.warnedNow());
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
        if (this.trying()) this.workOut();
      });
    });
    effect(() => this.leave());
  }

  private place(): string {
    return `rules ${this.store.id()}`;
  }

  /** What is tried is there again when one comes back. */
  private leave(): void {
    const body = this.body();
    // Until the book is there nothing was dropped.
    if (!this.tookUp) return;
    const left: LeftTrial | null = body && { body, items: [...(this.base?.items ?? [])] };
    this.drafts.keep(this.place(), left);
  }

  /** Takes up what was left, on the versions that it was tried on: what others made since is not overwritten. */
  private takeUp(): void {
    if (this.tookUp || !this.now()) return;
    this.tookUp = true;
    const left = this.drafts.read<LeftTrial>(this.place());
    const draft = left && this.store.mayManage() ? this.draftFrom(left.body) : null;
    if (!left || !draft) return;
    this.base = { rules: left.body.version, items: new Map(left.items) };
    this.try(draft);
  }

  private async look(): Promise<void> {
    try {
      const worker = this.store.worker();
      const [placed, warned] = [await worker.placed(), await worker.warnings(null)];
      this.placed.set(placed);
      this.warnedNow.set(warned);
      this.takeUp();
      // The first working-out of a book is slow; it is done before a word is changed.
      const now = this.now();
      if (now && !this.trying() && this.store.mayManage()) await worker.trial(proposalOf(now, now));
      if (this.trying()) this.workOut();
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

  private workOut(): void {
    const [wish, draft] = [this.wish(), this.draft()];
    this.run.ask(wish && draft ? { wish, draft } : null);
  }
}
