import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
  untracked,
  viewChildren,
} from '@angular/core';
import type { Criterion, CriterionMark } from '@core/rubric/document';
import { stepFrom } from '@core/rubric/levels';
import { cellKey } from '@contract/wire/cell-key';
import { messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import type { PendingLevels } from '../../../data/outbox/pending-writes';
import { afterPaint } from '../../../ui/timing/after-paint';
import { LevelDrafts, withMarks } from '../../../data/work/level-drafts';
import { bareKeys } from '../../../ui/layout/appearance';
import { StatusBar } from '../../../ui/layout/status-bar';
import { CriterionRule } from './criterion-rule';
import { MarkingList } from '../list/marking-list';
import { LevelEntry } from './level-entry';
import { NextPlace } from './next-place';
import { rulerSum } from './ruler-sum';

/** Milliseconds after the last arrow until part points are kept: a rule is moved by many small steps. */
const RESTS_AFTER = 500;
/** What asks, so that the same key once more says yes. */
interface Asked {
  criterion: string;
  mark: CriterionMark | null;
  why: 'nothing' | 'typed';
}
const isSame = (a: CriterionMark | null, b: CriterionMark | null): boolean => JSON.stringify(a) === JSON.stringify(b);

/** The criteria of a rubric as rules under the work, with the keys that set them. For one piece of work. */
@Component({
  selector: 'lt-ruler',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CriterionRule],
  templateUrl: './ruler.html',
  styleUrl: './ruler.css',
  host: { role: 'group', 'aria-label': 'Rubric', '(keydown)': 'keyed($event)' },
})
export class Ruler {
  readonly student = input.required<string>();
  readonly assessment = input.required<string>();
  /** The piece of work that is looked at. */
  readonly work = input.required<string>();
  readonly handedIn = input.required<boolean>();
  /** After the last criterion. */
  readonly finished = output();
  private readonly people = inject(MarkingList);
  private readonly store = inject(BookStore);
  private readonly drafts = inject(LevelDrafts);
  private readonly entry = inject(LevelEntry);
  private readonly statusBar = inject(StatusBar);
  private readonly rules = viewChildren(CriterionRule);
  private gone = false;
  private readonly nextPlace = new NextPlace();

  protected readonly criteria = computed(() => this.drafts.rubric()?.criteria ?? []);
  /** Only the last attempt is given levels; those of earlier ones are read. */
  protected readonly readOnly = computed(
    () => !this.store.mayScore() || this.work() !== this.drafts.workOf(this.student()),
  );
  /** What is being moved by arrows and is not kept yet. */
  private readonly moving = signal<{ criterion: Criterion; points: number; seen: number; isGiven: boolean } | null>(
    null,
  );
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** What was given by a key and is not worked out yet: it is seen at once. */
  private readonly ahead = signal<readonly { criterion: string; mark: CriterionMark | null }[]>([]);
  protected readonly marks = computed(() => {
    const moving = this.moving();
    const moved = moving ? [{ criterion: moving.criterion.id, mark: { points: moving.points } }] : [];
    return withMarks(this.drafts.marks(this.student(), this.work()), [...this.ahead(), ...moved]);
  });
  protected readonly sum = rulerSum(this);
  protected readonly trouble = computed(() => {
    const t = this.store.outbox.troubles().get(cellKey(this.student(), this.assessment()));
    return t?.kind === 'clash' && t.message !== undefined ? t.message : '';
  });
  protected readonly message = signal('');
  private asked: Asked | null = null;
  /** Said once for this piece of work: what stands in the place of the sum stays. */
  private keeps = false;

  protected readonly current = linkedSignal<string, string>({
    source: () => `${this.student()} ${this.work()} ${this.drafts.version()}`,
    // Where one begins; what is given afterwards moves nothing.
    computation: () =>
      untracked(() => {
        const marks = this.drafts.marks(this.student(), this.work());
        return (this.criteria().find((c) => marks[c.id] === undefined) ?? this.criteria()[0])?.id ?? '';
      }),
  });

  constructor() {
    effect(() => {
      const current = this.rules().find((r) => r.criterion().id === this.current());
      void afterPaint().then(() => !this.gone && current?.bringIntoSight());
    });
    inject(DestroyRef).onDestroy(() => {
      this.rest();
      this.nextPlace.drop();
      this.gone = true;
    });
  }

  protected by(criterion: string): string {
    const kept = this.drafts.kept(this.student(), this.work()).find((m) => m.criterion === criterion);
    return kept?.by ?? '';
  }

  protected take(criterion: string): void {
    if (this.current() === criterion) return;
    this.rest();
    this.current.set(criterion);
  }

  protected keyed(event: KeyboardEvent): void {
    if (this.leave(event)) return;
    const isBare = !event.key.startsWith('Arrow');
    if (event.ctrlKey || event.altKey || event.metaKey || (isBare && !bareKeys()) || !this.press(event)) return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** A bare key of the room; false where it is none of the ruler's. */
  press(event: KeyboardEvent): boolean {
    if (this.readOnly()) return false;
    const c = this.criteria().find((x) => x.id === this.current());
    if (!c) return false;
    const { key } = event;
    if (/^\d$/.test(key)) this.level(c, Number(key));
    else if (key === 'ArrowLeft' || key === 'ArrowRight') this.move(c, key === 'ArrowRight' ? 1 : -1);
    else if (key === 'x' || key === 'X') void this.give(c, { leftOut: true }, true);
    else if (key === 'Backspace' || key === 'Delete') void this.give(c, null, false);
    else if (key === '=') this.follow();
    else return false;
    return true;
  }

  private level(c: Criterion, n: number): void {
    const points = n === 0 ? 0 : c.levels[n - 1]?.points;
    if (points === undefined) return this.message.set(`${c.title} has ${c.levels.length} levels.`);
    void this.give(c, { points }, true);
  }

  private move(c: Criterion, by: 1 | -1): void {
    const mark = this.marks()[c.id];
    const points = stepFrom(c, mark && 'points' in mark ? mark.points : null, by);
    const before = this.moving();
    const seen = before?.criterion.id === c.id && !before.isGiven ? before.seen : this.seen(c);
    clearTimeout(this.timer);
    this.moving.set({ criterion: c, points, seen, isGiven: false });
    this.timer = setTimeout(() => this.rest(), RESTS_AFTER);
  }

  /** What was moved is given. */
  private rest(): void {
    clearTimeout(this.timer);
    const moving = this.moving();
    if (!moving || moving.isGiven) return;
    // It stays where it was moved to until it is shown as given.
    const given = { ...moving, isGiven: true };
    this.moving.set(given);
    void this.give(moving.criterion, { points: moving.points }, false, moving.seen).then(() =>
      this.moving.update((now) => (now === given ? null : now)),
    );
  }

  private seen(c: Criterion): number {
    return this.drafts.kept(this.student(), this.work()).find((m) => m.criterion === c.id)?.version ?? 0;
  }

  protected gavePoints(c: Criterion, points: number): void {
    this.current.set(c.id);
    if (!this.readOnly()) void this.give(c, { points }, false);
  }

  /** Gives a criterion something, asks first where that is due, and goes on to the next. */
  private give(c: Criterion, mark: CriterionMark | null, goOn: boolean, seen = this.seen(c)): Promise<boolean> {
    this.settleMoving(c);
    const yes = this.asked?.criterion === c.id && isSame(this.asked.mark, mark) ? this.asked.why : '';
    if (!this.handedIn() && this.isBare() && yes !== 'nothing' && mark !== null) {
      this.ask({ criterion: c.id, mark, why: 'nothing' }, 'Nothing was handed in. The same once more marks it all the same.'); // prettier-ignore
      return Promise.resolve(false);
    }
    // Where it may have to be asked the keys stay until that is known.
    const waits = this.sum().stands !== '' && !this.keeps && yes !== 'typed';
    if (yes === 'typed') this.keeps = true;
    this.asked = null;
    this.message.set('');
    const marks = [{ criterion: c.id, version: seen, mark }];
    const given = this.send(c, marks, yes === 'typed' || (this.keeps && this.sum().stands !== '') ? 'keep' : undefined);
    if (!waits) {
      const shown = { criterion: c.id, mark };
      this.ahead.update((all) => [...all, shown]);
      void given.then(() => this.ahead.update((all) => all.filter((a) => a !== shown)));
    }
    if (goOn && !waits) this.goOn(c);
    else if (goOn) void given.then((is) => is && this.goOn(c));
    return given;
  }

  /** Another key ends the moving of a rule; on the same criterion what it says takes its place. */
  private settleMoving(c: Criterion): void {
    const moving = this.moving();
    if (!moving || moving.isGiven) return;
    if (moving.criterion.id === c.id) {
      clearTimeout(this.timer);
      this.moving.set(null);
    } else this.rest();
  }

  private ask(asked: Asked, words: string): void {
    this.asked = asked;
    this.message.set(words);
  }

  /** Nothing of this work was given anything yet. */
  private isBare(): boolean {
    return Object.keys(this.drafts.marks(this.student(), this.work())).length === 0;
  }

  /** The sum of the levels takes the place of what was typed, with what was asked about. */
  protected follow(): void {
    this.rest();
    const asked = this.asked?.why === 'typed' ? this.asked : null;
    const c = asked && this.criteria().find((x) => x.id === asked.criterion);
    this.keeps = false;
    this.asked = null;
    this.message.set('');
    const marks = asked && c ? [{ criterion: asked.criterion, version: this.seen(c), mark: asked.mark }] : [];
    if (marks.length === 0 && this.sum().stands === '' && !this.sum().notGiven) return;
    void this.send(null, marks, 'follow');
  }

  private goOn(c: Criterion): void {
    const at = this.criteria().findIndex((x) => x.id === c.id);
    const next = this.criteria()[at + 1];
    if (!next) return this.nextPlace.set('away', () => this.finished.emit());
    this.current.set(next.id);
    this.nextPlace.set('on', () => this.current() === next.id && this.rules()[at + 1]?.focus());
  }

  /** See {@link NextPlace.leave}. */
  leave(event: KeyboardEvent): boolean {
    return this.nextPlace.leave(event);
  }

  /** Shows and keeps it. Where something stands in the place of the sum it is asked, wherever one is by then. */
  private async send(c: Criterion | null, marks: PendingLevels['marks'], sum?: 'follow' | 'keep'): Promise<boolean> {
    const at = { student: this.student(), item: this.assessment(), work: this.work() };
    const name = this.people.shortName(at.student);
    const title = c?.title ?? 'the sum';
    try {
      if (await this.entry.give(at, this.drafts, marks, sum, title)) return true;
    } catch (error) {
      this.statusBar.announce(`${name}: ${title} was not given: ${messageOf(error)}`, 'trouble');
      return false;
    }
    if (this.gone || !c)
      this.statusBar.announce(`${name}: a score was typed there, so ${title} was not given.`, 'trouble');
    else this.askTyped(c, marks[0]!.mark);
    return false;
  }

  /** Which is right: what stands in the place of the sum, or the sum. The keys are for that criterion until it is said. */
  private askTyped(c: Criterion, mark: CriterionMark | null): void {
    this.current.set(c.id);
    this.rules()[this.criteria().findIndex((x) => x.id === c.id)]?.focus();
    const stands = this.sum().stands || 'A score';
    this.ask(
      { criterion: c.id, mark, why: 'typed' },
      `${stands} stands in the place of the levels’ sum. = puts the sum there; the same once more leaves it.`,
    );
  }

  protected takeTheirs(): void {
    void this.store.takeTheirs(this.student(), this.assessment());
  }

  protected insist(): void {
    void this.store.outbox.insist(this.student(), this.assessment());
  }
}
