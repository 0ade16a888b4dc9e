import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { givenScore } from '@core/rubric/score-change';
import { counted } from '@core/words/count';
import type { Submission } from '@contract/submissions';
import { messageOf } from '../../data/api';
import { ArrivalList } from '../../data/work/arrival-list';
import { LevelDrafts } from '../../data/work/level-drafts';
import { BookAnnotations } from '../../data/annotations';
import { BookStore } from '../../data/book';
import { waitingByItem } from '../../data/columns';
import { LastList } from '../../data/work/last-list';
import { Walk } from '../../data/work/walk';
import { Choice } from '../../ui/form/choice';
import { bareKeys } from '../../ui/layout/appearance';
import { PaneEdge } from '../../ui/layout/pane-edge';
import { StatusBar } from '../../ui/layout/status-bar';
import { day, dayAndTime } from '../../ui/text/dates';
import { ReadyFiles } from '../../viewer/ready-files';
import { EndNote } from './note/end-note';
import { keepOrder, keepWidth, keptOrder, keptWidth, USUAL_WIDTH } from './kept-settings';
import { firstWaiting, nextWaiting, ordered, ORDERS, type Order } from './list/marking-order';
import { Ruler } from './ruler/ruler';
import { ScoreStrip, type After } from './score/score-strip';
import { countsOf, isUnopened, openedWords, rowWords, unfinishedRow } from './list/marking-rows';
import { OWN_KEYS, roomKeys } from './marking-keys';
import { OpenedNotes } from './opened-notes';
import { leavesOf, WorkView } from './work-view';

/** Milliseconds that somebody's work lies there before it counts as opened: whoever only steps by opens nothing. */
const OPENED_AFTER = 600;
/** Milliseconds until the next work is made ready: what is looked at comes first, and who only steps by fetches nothing. */
const AHEAD_AFTER = 250;

/** The marking room: one student's work after the other, with the score it is given. */
@Component({
  selector: 'lt-marking',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, EndNote, PaneEdge, RouterLink, Ruler, ScoreStrip, WorkView],
  providers: [ArrivalList, LevelDrafts],
  templateUrl: './marking.html',
  styleUrl: './marking.css',
  host: { role: 'main', '(document:keydown)': 'key($event)', '[style.--list]': "listWidth() + 'px'" },
})
export class MarkingPage {
  readonly assessment = input.required<string>();
  /** Whose work is looked at, from the address. */
  readonly student = input<string>();
  protected readonly store = inject(BookStore);
  protected readonly list = inject(ArrivalList);
  private readonly opened = inject(OpenedNotes);
  protected readonly rowWords = rowWords;
  protected readonly unopened = isUnopened;
  protected readonly openedWords = openedWords;
  private readonly annotations = inject(BookAnnotations);
  private readonly files = inject(ReadyFiles);
  private readonly router = inject(Router);
  private readonly statusBar = inject(StatusBar);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly work = viewChild(WorkView);
  private readonly strip = viewChild(ScoreStrip);
  private readonly ruler = viewChild(Ruler);
  private readonly note = viewChild(EndNote);
  protected readonly drafts = inject(LevelDrafts);
  protected readonly ORDERS = [...ORDERS];
  protected readonly item = this.list.item;
  protected readonly order = signal<Order>(keptOrder());
  protected readonly USUAL = USUAL_WIDTH;
  protected readonly listWidth = signal(keptWidth());
  protected readonly waitingOnly = signal(false);
  private readonly walks = inject(Walk);
  /** Some alone are gone through, such as those whom a changed rubric concerns. */
  protected readonly walk = computed(() => this.walks.of(this.store.id(), this.assessment()));
  private readonly within = computed(() => (this.walk() ? new Set(this.walk()!.enrolments) : null));

  /** Whose work is marked in part waits still. */
  private readonly rows = computed(() => {
    const rubric = this.drafts.rubric();
    if (!rubric) return this.list.rows();
    return this.list.rows().map((r) => unfinishedRow(r, rubric, this.drafts.marks(r.enrolment, this.drafts.workOf(r.enrolment)))); // prettier-ignore
  });

  /** In the order that was chosen; it stays while one marks, so that nobody jumps away under one's hands. */
  private readonly sequence = signal<string[]>([]);
  protected readonly everybody = computed(() => {
    const rows = new Map(this.rows().map((r) => [r.enrolment, r]));
    const known = this.sequence().flatMap((e) => rows.get(e) ?? []);
    const listed = new Set(this.sequence());
    const fresh = this.rows().filter((r) => !listed.has(r.enrolment));
    return [...known, ...fresh];
  });
  /** Whoever is looked at stays listed, though they do not wait any more. */
  protected readonly shown = computed(() =>
    this.everybody().filter(
      (r) =>
        (!this.within() || this.within()!.has(r.enrolment)) &&
        (!this.waitingOnly() || r.kind === 'to mark' || r.enrolment === this.chosen()),
    ),
  );
  protected readonly hides = computed(() => this.everybody().length - this.shown().length);
  protected readonly chosen = linkedSignal(() => this.student() ?? '');
  protected readonly current = computed(() => this.rows().find((r) => r.enrolment === this.chosen()) ?? null);

  /** What was handed in, the latest first; where nothing was, what was begun or taken back. */
  protected readonly attempts = computed((): Submission[] => {
    const all = this.current()?.submissions ?? [];
    const handedIn = all.filter((s) => s.state === 'handed-in').toReversed();
    return handedIn.length > 0
      ? handedIn
      : all.filter((s) => s.state === 'begun' || s.state === 'taken-back').slice(-1);
  });
  protected readonly picked = linkedSignal({ source: this.chosen, computation: (): string | null => null });
  protected readonly submission = computed(
    () => this.attempts().find((s) => s.id === this.picked()) ?? this.attempts()[0] ?? null,
  );

  /** The piece of work that levels are shown of. */
  protected readonly workShown = computed(() => {
    const last = this.submission()?.id === this.attempts()[0]?.id;
    return last ? this.drafts.workOf(this.chosen()) : (this.submission()?.id ?? '');
  });

  protected readonly levelSum = computed(() => {
    const [rubric, item] = [this.drafts.rubric(), this.item()];
    return rubric && item && givenScore(rubric, this.drafts.marks(this.chosen(), this.workShown()), item.points);
  });

  protected readonly waiting = computed(() => this.rows().filter((r) => r.kind === 'to mark').length);
  protected readonly counts = computed(() => countsOf(this.rows()));

  /** Before it is known whether there is a rubric a digit is neither a level nor a score. */
  protected readonly knowsRubric = computed(() => this.drafts.isThere() || this.drafts.problem() !== '');
  private readonly ready = computed(
    () => this.list.arrivals() !== null && this.store.cells() !== null && this.knowsRubric(),
  );

  /** How many wait, by assessment. */
  private readonly waitingBy = computed(() => {
    const cells = this.store.cells();
    this.store.revision();
    return cells ? waitingByItem(cells, this.store.items()) : new Map<string, number>();
  });
  protected readonly assessments = computed(() =>
    (this.store.page()?.assessments ?? []).map((a) => {
      const n = this.waitingBy().get(a.id) ?? 0;
      return { value: a.id, text: n > 0 ? `${a.title} (${n} to mark)` : a.title };
    }),
  );

  constructor() {
    effect(() => {
      this.list.assessment.set(this.assessment());
      this.drafts.assessment.set(this.assessment());
    });
    effect(() => {
      const [order, id] = [this.order(), this.assessment()];
      if (this.ready()) untracked(() => this.sequence.set(ordered(this.rows(), order, id).map((r) => r.enrolment)));
    });
    effect(() => {
      const there = this.list.assessment() === this.assessment() && this.rows().length > 0;
      if (there && this.chosen() === '') untracked(() => this.begin());
    });
    effect((onCleanup) => {
      const s = this.submission();
      if (!s || s.state === 'begun' || !this.store.id()) return;
      const timer = setTimeout(() => void this.opened.note(this.store.id(), s.id), OPENED_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
    effect((onCleanup) => {
      this.chosen();
      if (!this.ready()) return;
      const timer = setTimeout(() => this.makeReady(), AHEAD_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
    afterRenderEffect(() => {
      this.ready();
      document.getElementById(`row-${this.chosen()}`)?.scrollIntoView({ block: 'nearest' });
    });
    const lastList = inject(LastList);
    effect(() => {
      const shown = new Set(this.shown().map((r) => r.enrolment));
      lastList.set({
        ...{ book: this.store.id(), list: `the marking room of ${this.item()?.title ?? ''}` },
        words: 'all but those to mark',
        enrolments: new Set(this.everybody().flatMap((r) => (shown.has(r.enrolment) ? [] : [r.enrolment]))),
        path: ['/book', this.store.id(), 'marking', this.assessment()],
      });
    });
    this.statusBar.setIdle('', true);
    effect(() => this.statusBar.setIdle(this.waitWords(), false));
    effect(() => {
      const room = { rubric: this.drafts.rubric() !== null, scores: this.store.mayScore(), bare: bareKeys() };
      const keys = roomKeys(room);
      this.statusBar.keys.set(keys.foot);
      this.statusBar.sheet.set([{ title: 'The marking room', keys: keys.all }]);
    });
    inject(DestroyRef).onDestroy(() => this.statusBar.sheet.set([]));
  }

  private waitWords(): string {
    if (this.rows().length === 0) return '';
    return this.waiting() === 0 ? 'Nothing waits to be marked here.' : `${counted(this.waiting(), 'piece')} to mark.`;
  }

  /** Straight into the first work that waits. */
  private begin(): void {
    const first = this.walk() ? this.shown()[0] : (nextWaiting(this.everybody(), '') ?? this.everybody()[0]);
    if (first) this.goTo(first.enrolment);
  }

  protected goTo(enrolment: string): void {
    if (enrolment === this.chosen()) return;
    this.chosen.set(enrolment);
    // The address follows, without a step back in the browser for every student.
    void this.router.navigate([], { queryParams: { student: enrolment }, replaceUrl: true });
  }

  /** Everybody is listed again. */
  protected endWalk(): void {
    this.walks.begin(null);
  }

  /** The next of those that are gone through; after the last of them everybody is there again. */
  private nextOfWalk(): void {
    const rows = this.shown();
    if (rows.length === 0) return;
    const to = rows[rows.findIndex((r) => r.enrolment === this.chosen()) + 1];
    if (to) return this.goTo(to.enrolment);
    this.statusBar.announce('That was the last of them: everybody is listed again.');
    this.endWalk();
  }

  protected next(): void {
    if (this.walk()) return this.nextOfWalk();
    const next = nextWaiting(this.everybody(), this.chosen());
    if (next) return this.goTo(next.enrolment);
    if (this.current()?.kind === 'to mark') return this.statusBar.announce('Nobody else waits to be marked here.');
    // Done with this one: on to the assessment that was due first of those with work that waits.
    const others = (this.store.page()?.assessments ?? []).filter((a) => a.id !== this.assessment());
    const other = firstWaiting(others, this.waitingBy());
    if (!other) return this.statusBar.announce('Nothing waits to be marked in this book any more.');
    this.statusBar.announce(`${this.item()?.title ?? ''} is done. On to ${other.title}.`);
    this.open(other.id);
  }

  /** Another assessment of the book, at its first work that waits. */
  protected open(assessment: string): void {
    if (assessment !== this.assessment()) void this.router.navigate(['/book', this.store.id(), 'marking', assessment]);
  }

  protected step(by: 1 | -1): void {
    const rows = this.shown();
    const at = rows.findIndex((r) => r.enrolment === this.chosen());
    const to = rows[Math.max(0, Math.min(rows.length - 1, at + by))];
    if (to) this.goTo(to.enrolment);
  }

  protected after(where: After): void {
    document.getElementById(`row-${this.chosen()}`)?.focus({ preventScroll: true });
    if (where !== 'stay') this.step(where === 'next' ? 1 : -1);
  }

  protected setOrder(order: string): void {
    this.order.set(order as Order);
    keepOrder(order as Order);
  }

  protected setListWidth(width: number): void {
    this.listWidth.set(width);
    keepWidth(width);
  }

  protected when(at: string): string {
    return dayAndTime(at, this.list.zone());
  }

  protected dueWords(): string {
    const item = this.item();
    return item ? `of ${item.points}${item.due ? ` · due ${day(item.due, this.list.zone())}` : ''}` : '';
  }

  /** Marks the work for a second look, or takes that back. */
  protected async lookTwice(): Promise<void> {
    const who = this.current();
    if (!who || !this.store.mayScore()) return;
    try {
      await this.annotations.write(who.enrolment, this.assessment(), { secondLook: !who.secondLook });
    } catch (error) {
      this.statusBar.announce(`${who.name} was not marked for a second look: ${messageOf(error)}`, 'trouble');
    }
  }

  /** Their work is given back to them, with a comment and until when. */
  protected openAgain(): void {
    if (!this.store.mayManage() || this.chosen() === '') return;
    const queryParams = { make: 'open-again', assessment: this.assessment(), student: this.chosen() };
    void this.router.navigate(['/book', this.store.id(), 'exceptions'], { queryParams });
  }

  /** The work of whoever comes next is fetched and decoded before it is asked for. */
  private makeReady(): void {
    const rows = this.everybody();
    const at = rows.findIndex((r) => r.enrolment === this.chosen());
    for (const row of [nextWaiting(rows, this.chosen()), rows[at + 1]]) {
      const last = row?.submissions.findLast((s) => s.state === 'handed-in');
      const first = last ? leavesOf(this.store.id(), last)[0] : undefined;
      if (first?.kind === 'file') this.files.ahead(first.file);
    }
  }

  /** After the last criterion the phrase line has the keys. */
  protected toPhrases(): void {
    this.note()?.focusLine();
  }

  /** Bare keys of the room: none within a text, a dialog or with another key. */
  protected key(event: KeyboardEvent): void {
    const within = event.target as HTMLElement;
    if (event.ctrlKey || event.altKey || event.metaKey || event.defaultPrevented || !bareKeys()) return;
    // In the tabs and the head of the page keys are theirs.
    if (within !== document.body && !this.host.contains(within)) return;
    if (within.closest(OWN_KEYS)) return;
    if (this.ruler()?.press(event)) return event.preventDefault();
    if (/^\d$/.test(event.key) && this.strip() && !this.ruler()) this.strip()!.begin(event.key);
    else if ((event.key === 's' || event.key === 'S') && this.strip()) this.strip()!.focus();
    else if (event.key === 'n' || event.key === 'N') this.next();
    else if (event.key === 'ArrowDown' && !within.closest('[data-scrolls]')) this.step(1);
    else if (event.key === 'ArrowUp' && !within.closest('[data-scrolls]')) this.step(-1);
    else if (event.key === 'l' || event.key === 'L') void this.lookTwice();
    else if (event.key === 'o' || event.key === 'O') this.openAgain();
    else if ((event.key === 'e' || event.key === 'E') && this.note()) this.toPhrases();
    else if (event.key === 'f' || event.key === 'F') this.work()?.nextLeaf();
    else if (event.key === 'r' || event.key === 'R') this.work()?.turnIt();
    else if (event.key === '+' || event.key === '=') this.work()?.larger();
    else if (event.key === '-') this.work()?.smaller();
    else return;
    event.preventDefault();
  }
}
