import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { PlacedItem } from '@core/book/assemble';
import type { Trial } from '@core/trial/compare';
import type { Wish } from '@core/trial/wish';
import type { TrialBody } from '@contract/trials';
import { saysOf } from '../state/api';
import { BookStore } from '../state/book';
import { causeWords } from './cause-words';
import { draftOf, isSame, wishOf, type Draft } from './draft';
import { PARTS } from './parts';
import { plainWords, valuesOf } from './sentence';
import { placeWarnings, type Said } from './warnings';

/** Milliseconds that a trial stands before it is asked who is moved by what. */
const CAUSES_AFTER = 350;

/** The rules that are being read and tried on the page, with what the trial says. Each page has its own. */
@Injectable()
export class RuleEdit {
  private readonly store = inject(BookStore);
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
  private running = false;
  private again = false;
  private askedAt = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** As it is in the book. */
  readonly now = computed((): Draft | null => {
    const rules = this.store.rules();
    const placed = this.placed();
    return rules && placed ? draftOf(rules, placed, (id) => this.store.titles()[id] ?? id) : null;
  });
  /** As it would be. */
  readonly draft = computed(() => this.tried() ?? this.now());
  readonly trying = computed(() => this.tried() !== null);
  readonly fixed = computed(() => !this.store.mayManage());
  private readonly nowWords = computed(() => this.wordsOf(this.now()));
  private readonly draftWords = computed(() => this.wordsOf(this.draft()));
  /** Ids of parts in which something is tried. */
  readonly changed = computed(() => {
    const [now, is] = [this.nowWords(), this.draftWords()];
    return new Set(PARTS.filter((p) => now.get(p.id)?.text !== is.get(p.id)?.text).map((p) => p.id));
  });
  /** What is warned of, or wrong, beside each sentence. */
  readonly beside = computed(() => {
    const draft = this.draft();
    if (!draft) return { beside: new Map<string, string[]>(), loose: [] };
    return placeWarnings(draft, PARTS, this.tried() ? this.warned() : this.warnedNow());
  });
  readonly wrong = computed(() => {
    const draft = this.draft();
    return draft ? placeWarnings(draft, PARTS, this.problems()) : { beside: new Map<string, string[]>(), loose: [] };
  });

  constructor() {
    effect(() => {
      // Whenever the book was loaded anew, its assessments and what is warned of are asked for again.
      this.store.loaded();
      if (!this.store.cells()) return;
      untracked(() => void this.look());
    });
  }

  private async look(): Promise<void> {
    try {
      const worker = this.store.worker();
      const [placed, warned] = [await worker.placed(), await worker.warnings()];
      this.placed.set(placed);
      this.warnedNow.set(warned);
      // The first working-out of a book is slow; it is done before a word is changed.
      const now = this.now();
      if (now && !this.trying() && this.store.mayManage()) await worker.trial(wishOf(now, now));
      if (this.trying()) this.workOut();
    } catch (error) {
      this.failure.set(saysOf(error));
    }
  }

  private wordsOf(draft: Draft | null): Map<string, { text: string; values: Map<string, string> }> {
    return new Map(
      PARTS.map((p) => {
        const sentences = draft ? p.sentences(draft) : [];
        return [p.id, { text: sentences.map(plainWords).join('\n'), values: valuesOf(sentences) }];
      }),
    );
  }

  /** Labels of a sentence's words that are other than in force. */
  changedIn(part: string, sentence: string): ReadonlySet<string> {
    const out = new Set<string>();
    if (!this.trying()) return out;
    // What is looked at from an assessment comes from several parts; sentences' ids are theirs alone.
    const parts = part === 'of' ? PARTS.map((p) => p.id) : [part];
    for (const id of parts) this.addChanged(id, sentence, out);
    return out;
  }

  private addChanged(part: string, sentence: string, out: Set<string>): void {
    const now = this.nowWords().get(part)?.values;
    const is = this.draftWords().get(part)?.values;
    if (!now || !is) return;
    for (const [key, value] of is)
      if (key.startsWith(`${sentence} `) && now.get(key) !== value) out.add(key.slice(sentence.length + 1));
  }

  /** Puts a change on trial. One that leads back to the rules as they are ends the trial. */
  try(next: Draft): void {
    const now = this.now();
    if (!now) return;
    this.failure.set('');
    this.askedAt = performance.now();
    this.tried.set(isSame(now, next) ? null : next);
    this.workOut();
  }

  drop(): void {
    this.tried.set(null);
    this.failure.set('');
    this.workOut();
  }

  /** What would be made; null: nothing is tried. */
  wish(): Wish | null {
    const [now, tried] = [this.now(), this.tried()];
    return now && tried ? wishOf(now, tried) : null;
  }

  /** What is tried, as it is kept beside; null: nothing is. */
  body(): TrialBody | null {
    const [wish, draft] = [this.wish(), this.draft()];
    return wish && draft
      ? {
          version: this.store.page()!.rulesVersion,
          rules: wish.rules,
          items: wish.items,
          supposed: draft.supposed,
        }
      : null;
  }

  /** Takes up what was kept. Assessments that are gone meanwhile are left out of it. */
  load(body: TrialBody): void {
    const draft = this.draftFrom(body);
    if (draft) this.try(draft);
  }

  /** Puts rules and settings from elsewhere on trial. */
  tryWish(wish: Wish): void {
    this.load({ version: this.store.page()!.rulesVersion, rules: wish.rules, items: wish.items, supposed: [] });
  }

  wishFrom(body: TrialBody): Wish {
    const draft = this.draftFrom(body);
    return wishOf(this.now()!, draft!);
  }

  private draftFrom(body: TrialBody): Draft | null {
    const now = this.now();
    if (!now) return null;
    const students = new Set(this.store.students());
    const items = new Set(now.items.map((i) => i.id));
    return {
      rules: body.rules,
      items: now.items.map((i) => ({ ...i, settings: body.items[i.id] ?? i.settings })),
      supposed: body.supposed
        .map((s) => ({ ...s, cells: s.cells.filter((c) => students.has(c.student) && items.has(c.item)) }))
        .filter((s) => s.cells.length > 0),
    };
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

  private async ask(wish: Wish): Promise<void> {
    try {
      const { trial, problems, warnings } = await this.store.worker().trial(wish);
      if (this.again || !this.trying()) return;
      this.took.set(Math.max(1, Math.round(performance.now() - this.askedAt)));
      this.trial.set(problems.length === 0 ? trial : null);
      this.problems.set(problems);
      this.warned.set(warnings);
      this.why.set({});
      if (problems.length === 0 && trial.movers.length > 0)
        this.timer = setTimeout(() => void this.askWhy(wish), CAUSES_AFTER);
    } catch (error) {
      this.failure.set(saysOf(error));
    }
  }

  private async askWhy(wish: Wish): Promise<void> {
    try {
      const causes = await this.store.worker().causes(wish);
      const draft = this.draft();
      if (!draft || this.wish() === null || JSON.stringify(this.wish()) !== JSON.stringify(wish)) return;
      this.why.set(Object.fromEntries(Object.entries(causes).map(([id, d]) => [id, causeWords(draft, d)])));
    } catch (error) {
      this.failure.set(saysOf(error));
    }
  }
}
