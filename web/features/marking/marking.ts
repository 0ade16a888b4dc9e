import {
  afterRenderEffect,
  ApplicationRef,
  ChangeDetectionStrategy,
  Component,
  computed,
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
import { messageOf } from '../../data/api';
import { ArrivalList } from '../../data/work/arrival-list';
import { LevelDrafts } from '../../data/work/level-drafts';
import { BookAnnotations } from '../../data/annotations';
import { BookStore } from '../../data/book';
import { LastList } from '../../data/work/last-list';
import { WorkMarks, type ShownMark } from '../../data/work/work-marks';
import type { MarkAct } from '../../viewer/marks/mark-board';
import { Choice } from '../../ui/form/choice';
import { MenuWord } from '../../ui/form/menu-word';
import { bareKeys } from '../../ui/layout/appearance';
import { onDocument } from '../../ui/layout/document-events';
import { KeptHeight } from '../../ui/layout/kept-height';
import { isLeaving } from '../../ui/layout/leaving';
import { PaneEdge } from '../../ui/layout/pane-edge';
import { StatusBar } from '../../ui/layout/status-bar';
import { day, dayAndTime } from '../../ui/text/dates';
import { ReleaseDialog } from '../../release/release-dialog';
import { BesideWork } from './beside-work';
import { EndNote } from './note/end-note';
import { Examples } from './examples';
import { GivenFiles } from './given/given-files';
import { keepWidth, keptWidth, USUAL_WIDTHS } from './kept-settings';
import { MarkingList } from './list/marking-list';
import { Margin } from './marks/margin';
import { Ruler } from './ruler/ruler';
import { ScoreStrip, type After } from './score/score-strip';
import { openedWords } from './list/marking-rows';
import { PeopleList } from './list/people-list';
import { OWN_KEYS, roomKeys } from './marking-keys';
import { HiddenNames } from './hidden-names';
import { MarkingSteps } from './marking-steps';
import { NextWork } from './next-work';
import { WorkOpening } from './work-opening';
import { ShowNames } from './show-names';
import { ShownWork } from './shown-work';
import { WorkView } from './work-view';

/** The marking room: one student's work after the other, with the score it is given. */
@Component({
  selector: 'lt-marking',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    BesideWork,
    Choice,
    EndNote,
    GivenFiles,
    Margin,
    MenuWord,
    PaneEdge,
    KeptHeight,
    PeopleList,
    ReleaseDialog,
    RouterLink,
    Ruler,
    ScoreStrip,
    ShowNames,
    WorkView,
  ],
  providers: [
    ArrivalList,
    Examples,
    HiddenNames,
    LevelDrafts,
    MarkingList,
    MarkingSteps,
    NextWork,
    WorkOpening,
    ShownWork,
    WorkMarks,
  ],
  templateUrl: './marking.html',
  styleUrl: './marking.css',
  host: {
    role: 'main',
    '[style.--list]': "widths().list + 'px'",
    '[style.--margin]': "widths().margin + 'px'",
  },
})
export class MarkingPage {
  readonly assessment = input.required<string>();
  /** Whose work is looked at, from the address. */
  readonly student = input<string>();
  protected readonly store = inject(BookStore);
  protected readonly list = inject(ArrivalList);
  protected readonly people = inject(MarkingList);
  protected readonly marks = inject(WorkMarks);
  protected readonly opened = inject(WorkOpening);
  protected readonly openedWords = openedWords;
  private readonly annotations = inject(BookAnnotations);
  private readonly application = inject(ApplicationRef);
  private readonly router = inject(Router);
  private readonly statusBar = inject(StatusBar);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly work = viewChild(WorkView);
  private readonly margin = viewChild(Margin);
  private readonly strip = viewChild(ScoreStrip);
  private readonly ruler = viewChild(Ruler);
  private readonly note = viewChild(EndNote);
  /** While one writes at the end, it has more room. */
  protected readonly isWriting = computed(() => this.note()?.isWriting() === true);
  private readonly given = viewChild(GivenFiles);
  protected readonly drafts = inject(LevelDrafts);
  protected readonly steps = inject(MarkingSteps);
  protected readonly names = inject(HiddenNames);
  protected readonly shown = inject(ShownWork);
  protected readonly attempts = this.shown.attempts;
  protected readonly submission = this.shown.submission;
  protected readonly item = this.list.item;
  protected readonly USUAL = USUAL_WIDTHS;
  protected readonly widths = signal({ list: keptWidth('list'), margin: keptWidth('margin') });
  /** The piece of work that levels are shown of. */
  protected readonly workShown = computed(() => {
    const last = this.submission()?.id === this.attempts()[0]?.id;
    return last ? this.drafts.workOf(this.people.chosen()) : (this.submission()?.id ?? '');
  });

  protected readonly levelSum = computed(() => {
    const [rubric, item] = [this.drafts.rubric(), this.item()];
    return rubric && item && givenScore(rubric, this.drafts.marks(this.people.chosen(), this.workShown()), item.points);
  });

  protected readonly releaseColumns = computed(() => [
    { assessment: this.assessment(), enrolments: [this.people.chosen()] },
  ]);
  /** What is about to be released to whom is shown. */
  protected readonly releasing = linkedSignal({ source: () => this.people.chosen(), computation: () => false });

  /** Marks on a piece of work; none on any other than the one that they were fetched for. */
  protected marksOn(submission: string): readonly ShownMark[] {
    return this.marks.place()?.submission === submission ? this.marks.shown() : [];
  }

  constructor() {
    this.people.asked.set(this.student);
    onDocument('keydown', (event) => this.key(event));
    effect(() => {
      const [book, s] = [this.store.id(), this.submission()];
      this.marks.place.set(book && s ? { book, submission: s.id } : null);
    });
    effect(() => {
      this.list.assessment.set(this.assessment());
      this.drafts.assessment.set(this.assessment());
    });
    effect(() => {
      const there = this.list.assessment() === this.assessment() && this.people.rows().length > 0;
      if (there && this.people.chosen() === '' && !isLeaving(this.router)) untracked(() => this.steps.begin());
    });
    inject(NextWork);
    afterRenderEffect(() => {
      this.people.ready();
      document.getElementById(`row-${this.people.chosen()}`)?.scrollIntoView({ block: 'nearest' });
    });
    const lastList = inject(LastList);
    effect(() => {
      const shown = new Set(this.people.shown().map((r) => r.enrolment));
      lastList.set({
        ...{ book: this.store.id(), list: `the marking room of ${this.item()?.title ?? ''}` },
        words: 'all but those to mark',
        enrolments: new Set(this.people.everybody().flatMap((r) => (shown.has(r.enrolment) ? [] : [r.enrolment]))),
        path: ['/book', this.store.id(), 'marking', this.assessment()],
      });
    });
    effect(() => this.statusBar.setIdle(this.waitWords(), false));
    effect(() => {
      const room = { rubric: this.drafts.rubric() !== null, scores: this.store.mayScore(), bare: bareKeys() };
      const keys = roomKeys(room);
      this.statusBar.keys.set(keys.foot);
      this.statusBar.sheet.set([{ title: 'The marking room', keys: keys.all }]);
    });
  }

  private waitWords(): string {
    if (this.people.rows().length === 0) return '';
    return this.people.waiting() === 0
      ? 'Nothing waits to be marked here.'
      : `${counted(this.people.waiting(), 'piece')} to mark.`;
  }

  protected after(where: After): void {
    document.getElementById(`row-${this.people.chosen()}`)?.focus({ preventScroll: true });
    if (where !== 'stay') this.steps.step(where === 'next' ? 1 : -1);
  }

  protected setWidth(pane: 'list' | 'margin', width: number): void {
    this.widths.update((all) => ({ ...all, [pane]: width }));
    keepWidth(pane, width);
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
    const who = this.people.current();
    if (!who || !this.store.mayScore()) return;
    try {
      await this.annotations.write(who.enrolment, this.assessment(), { secondLook: !who.secondLook });
    } catch (error) {
      this.statusBar.announce(`${who.name} was not marked for a second look: ${messageOf(error)}`, 'trouble');
    }
  }

  /** The slip is with its student, or will be. */
  protected released(words: string): void {
    this.releasing.set(false);
    this.statusBar.announce(words);
    this.after('stay');
  }

  /** Their work is given back to them, with a comment and until when. */
  protected openAgain(): void {
    if (!this.store.mayManage() || this.people.chosen() === '') return;
    const queryParams = { make: 'open-again', assessment: this.assessment(), student: this.people.chosen() };
    void this.router.navigate(['/book', this.store.id(), 'exceptions'], { queryParams });
  }

  /** Something was marked on a leaf of the work that is shown. */
  protected marked({ leaf, act }: { leaf: string; act: MarkAct }): void {
    if (act.act === 'change') return this.marks.change(act.id, act.mark, act.together);
    if (act.act === 'take-off') return this.marks.takeOff(act.id);
    this.marks.make(act.id, leaf, act.mark);
    if (!act.writes) return;
    this.work()?.board.choose(act.id, true);
    // Its line has the keys at once: the next letter may come any moment, and is no key of the room.
    this.application.tick();
  }

  /** After the last criterion the phrase line has the keys. */
  protected toPhrases(): void {
    this.note()?.focusLine();
  }

  /** Bare keys of the room: none within a text, a dialog or with another key. */
  private key(event: KeyboardEvent): void {
    const within = event.target as HTMLElement;
    if (event.defaultPrevented) return;
    // In the tabs and the head of the page keys are theirs.
    if (within !== document.body && !this.host.contains(within)) return;
    if (within.closest(OWN_KEYS) || this.ruler()?.leave(event)) return;
    if ((event.ctrlKey || event.metaKey) && event.key === 'Enter') {
      if (!this.store.mayManage() || event.repeat) return;
      if (this.store.veiled() !== '')
        return this.statusBar.announce('It is released once its names are shown.', 'trouble');
      this.releasing.set(this.people.chosen() !== '');
      return event.preventDefault();
    }
    if ((bareKeys() || event.ctrlKey || event.metaKey) && this.margin()?.press(event)) return event.preventDefault();
    if (event.ctrlKey || event.altKey || event.metaKey || !bareKeys()) return;
    if (this.ruler()?.press(event)) return event.preventDefault();
    if (/^\d$/.test(event.key) && this.strip() && !this.ruler()) this.strip()!.begin(event.key);
    else if ((event.key === 's' || event.key === 'S') && this.strip()) this.strip()!.focus();
    else if (event.key === 'n' || event.key === 'N') this.steps.next();
    else if (event.key === 'ArrowDown' && !within.closest('[data-scrolls]')) this.steps.step(1);
    else if (event.key === 'ArrowUp' && !within.closest('[data-scrolls]')) this.steps.step(-1);
    else if (event.key === 'l' || event.key === 'L') void this.lookTwice();
    else if (event.key === 'v' || event.key === 'V') this.names.hideNames();
    else if (event.key === 'o' || event.key === 'O') this.openAgain();
    else if ((event.key === 'e' || event.key === 'E') && this.note()) this.toPhrases();
    else if (event.key === 'a' || event.key === 'A') this.given()?.record('voice');
    else if (event.key === 'f' || event.key === 'F') this.work()?.nextLeaf();
    else if (event.key === 'w' || event.key === 'W') this.work()?.findWords();
    else if (event.key === 'r' || event.key === 'R') this.work()?.turnIt();
    else if (event.key === '+' || event.key === '=') this.work()?.larger();
    else if (event.key === '-') this.work()?.smaller();
    else return;
    event.preventDefault();
  }
}
