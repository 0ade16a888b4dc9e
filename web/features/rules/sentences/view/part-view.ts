import {
  ApplicationRef,
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
} from '@angular/core';
import type { Draft } from '../../draft';
import { putItems, ruleOf } from '../../draft';
import { toolOf } from '@core/statistics/class-tools';
import { BookStore } from '../../../../data/book';
import { longDay } from '../../../../ui/text/dates';
import { CurvePicture } from '../../pictures/curve-picture';
import { departureWords } from '../../words/departure-words';
import { LatePicture } from '../../pictures/late-picture';
import { LettersPicture } from '../../pictures/letters-picture';
import { RuleEdit } from '../../rule-edit';
import { PARTS } from '..';
import { bandsOf, moveBand } from '../letters/scales';
import { RuleSentence } from './rule-sentence';
import { PolicyNotes } from '../../policy/policy-notes';
import type { Part, Sentence } from '../sentence';
import { keyedAnew, type Keyed } from '../../words/stable-keys';
import { touchedWords } from '../../words/touched';
import { sentenceKey } from '../../words/warnings';

/** One kind of rules: its sentences under their headings, with what is to know beside each, and its picture. */
@Component({
  selector: 'lt-part-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CurvePicture, LatePicture, LettersPicture, RuleSentence],
  templateUrl: './part-view.html',
  styleUrls: ['./part-head.css', './part-view.css'],
})
export class PartView {
  readonly part = input.required<Part>();
  private readonly app = inject(ApplicationRef);
  protected readonly edit = inject(RuleEdit);
  private readonly store = inject(BookStore);
  protected readonly school = inject(PolicyNotes);
  /** Another part, or another book, is begun with none of its sentences. */
  private readonly place = computed(() => `${this.store.id()} ${this.part().id}`);
  /** The sentence that one is on, with the keys or with the pointer. */
  private readonly on = linkedSignal<string, Sentence | null>({ source: this.place, computation: () => null });
  /** The one that had the keys last: its picture stays, whatever the pointer lies on. */
  private readonly entered = linkedSignal<string, Sentence | null>({
    source: this.place,
    computation: () => null,
  });
  private readonly draft = computed(() => this.edit.draft()!);
  protected readonly lead = computed(() => this.part().lead(this.draft()));
  /** How this kind of rules stands to the school's. */
  protected readonly stand = computed(() => this.school.standOf(this.part(), this.draft()));
  protected readonly sinceWords = computed(() =>
    (this.stand()?.since ?? []).map(({ departure, title, since }) => ({
      message: departureWords(departure, title),
      since:
        since &&
        `Since ${longDay(since.at, this.store.page()?.timeZone ?? 'UTC')}, ${since.by}${since.reason ? `: “${since.reason}”` : '.'}`,
    })),
  );
  protected readonly sentences = linkedSignal<{ part: string; all: Sentence[] }, Keyed<Sentence>[]>({
    source: () => ({ part: this.part().id, all: this.edit.sentences(this.part()) }),
    computation: ({ part, all }, before) => keyedAnew(all, before?.source.part === part ? before.value : []),
  });
  protected readonly bands = computed(() => bandsOf(this.draft()));
  /** The class where the letters look for it: in the trial, or as it stands. */
  protected readonly line = computed(() => {
    const trial = this.edit.trial();
    return trial
      ? trial.line.map((l) => ({ at: l.after, crosses: l.crosses }))
      : this.store.standings().map((s) => ({ at: s.at, crosses: false }));
  });
  /** The assessment whose curve is drawn: the one that one is on, or the first that has a curve. */
  protected readonly curved = computed(() => {
    const items = this.draft().items;
    const on = (this.entered() ?? this.on())?.touches ?? [];
    return items.find((i) => on.length === 1 && i.id === on[0]) ?? items.find((i) => i.settings.curve) ?? items[0];
  });
  protected readonly scores = computed(() => this.draft().class?.marked.get(this.curved()?.id ?? '') ?? []);
  /** A curve that was worked out from the class has no points to drag. */
  protected readonly byTool = computed(() => toolOf(this.curved()?.settings.curve) !== null);
  /** What the sentence one is on touches, in words. */
  protected readonly touched = computed(() => {
    const on = this.on();
    this.store.revision();
    const cells = this.store.cells();
    if (!on) return [];
    const people = this.store.people();
    const group = cells && {
      cells,
      students: this.store.students(),
      itemIndex: this.store.itemIndex(),
      name: (id: string) => people.get(id)?.family ?? '',
      letters: this.store.standings().map((s) => s.letter),
    };
    // What is looked at from an assessment has sentences of several kinds.
    const { id } = this.part();
    const kind = id === 'of' ? PARTS.find((p) => this.edit.sentences(p).some((s) => s.id === on.id))?.id : id;
    return touchedWords(kind ?? id, on, this.draft(), group);
  });

  protected enter(s: Sentence): void {
    this.on.set(s);
    this.entered.set(s);
  }

  /** A pointer at rest is on no other sentence because the page moved under it. */
  protected hover(event: PointerEvent, s: Sentence): void {
    if (event.movementX !== 0 || event.movementY !== 0) this.on.set(s);
  }

  protected beside(s: Sentence): string[] {
    return this.saidOf(s, this.edit.beside().beside);
  }

  protected wrong(s: Sentence): string[] {
    return this.saidOf(s, this.edit.wrong().beside);
  }

  /** What is looked at from an assessment has sentences of several parts. */
  private saidOf(s: Sentence, said: ReadonlyMap<string, string[]>): string[] {
    const { id } = this.part();
    const parts = id === 'of' ? PARTS.map((p) => p.id) : [id];
    return parts.flatMap((p) => said.get(sentenceKey(p, s.id)) ?? []);
  }

  /** The name of the late rule whose main sentence this is. */
  protected lateOf(s: Sentence): string | null {
    const name = /^late (.+) skips$/.exec(s.id)?.[1];
    return name !== undefined ? name : null;
  }

  protected late(name: string, now = false) {
    const draft = now ? this.edit.now() : this.draft();
    return draft ? ruleOf(draft, 'late', name) : undefined;
  }

  protected moveEdge(e: { label: string; from: number }): void {
    this.edit.try(moveBand(this.draft(), e.label, e.from));
  }

  protected bend(through: [number, number][]): void {
    this.edit.try(putItems(this.draft(), [this.curved()!.id], { curve: { kind: 'line', through } }));
  }

  protected readonly lettersFixed = computed(() => this.school.rules()?.stands.letters === 'fixed');

  protected asTheSchool(): void {
    this.edit.try(this.school.asTheSchool(this.part(), this.draft()));
  }

  protected try(next: Draft): void {
    this.edit.try(next);
    // The words are drawn anew at once: what is typed next is said of this draft, not of the one before.
    this.app.tick();
  }
}
