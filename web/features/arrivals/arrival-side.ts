import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  resource,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import type { Letters } from '@contract/mail';
import type { HandedIn, Submission, SubmissionHistory } from '@contract/work/submissions';
import { Api, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { Operations } from '../../data/operations';
import { sessionFeature } from '../../data/session';
import { OpenThread } from '../../data/work/thread';
import { acceptQuestion } from '../../ui/form/accept-question';
import { AskText, type Question } from '../../ui/form/ask-text';
import { ThreadBox } from '../../ui/form/thread-box';
import { dayAndTime } from '../../ui/text/dates';
import { kindWords, sizeOf } from '../../ui/text/file-words';
import type { ArrivalRow } from '../../data/work/arrival-rows';

const TRACE_WORDS: Record<string, string> = {
  begun: 'begun',
  'file-came': 'came in',
  'handed-in': 'handed in',
  accepted: 'taken in by the staff',
  'taken-back': 'taken back',
  opened: 'opened',
  'looked-through': 'looked through',
  'broke-off': 'broke off',
  moved: 'moved to where it belongs',
  'moved-in': 'moved here',
};
/** Of these it is said who did them: the others are the student's. */
const BY_STAFF = ['opened', 'looked-through', 'accepted', 'moved', 'moved-in'];

/** All that came from one student for one assessment, what happened to it, and what was asked and written about it. */
@Component({
  selector: 'lt-arrival-side',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AskText, RouterLink, ThreadBox],
  providers: [OpenThread],
  templateUrl: './arrival-side.html',
  styleUrl: './arrival-side.css',
  host: { role: 'complementary', 'aria-label': 'What came from one student' },
})
export class ArrivalSide {
  readonly row = input.required<ArrivalRow>();
  readonly assessment = input.required<string>();
  readonly points = input(0);
  readonly zone = input('UTC');
  /** Another number each time that something was heard of the book. */
  readonly heard = input(0);
  readonly letters = input<Letters>([]);
  readonly changed = output<void>();
  /** One wants to write to this student. */
  readonly writes = output<void>();
  protected readonly store = inject(BookStore);
  protected readonly thread = inject(OpenThread);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly me = inject(Store).selectSignal(sessionFeature.selectMe);
  /** May take in: the teachers, and the office with a reason. */
  protected readonly mayWork = computed(() => this.store.mayManage() || this.me()?.role === 'administrator');
  protected readonly sizeOf = sizeOf;
  protected readonly kindWords = kindWords;

  private readonly history = resource({
    params: () => {
      const last = this.row().submissions.at(-1);
      this.heard();
      return last && this.store.id() ? `/books/${this.store.id()}/submissions/${last.id}/history` : undefined;
    },
    loader: ({ params }) => this.api.get<SubmissionHistory>(params),
  });
  protected readonly traces = computed(() =>
    (this.history.hasValue() ? this.history.value() : []).map((t) => ({
      at: this.when(t.at),
      label: `${TRACE_WORDS[t.kind] ?? t.kind}${BY_STAFF.includes(t.kind) ? ` by ${t.by}` : ''}${t.file ? `: ${t.file}` : ''}`,
    })),
  );
  /** What was written to this student about it, the latest first. */
  protected readonly written = computed(() =>
    this.letters().flatMap(({ id, at, subject, copies }) => {
      const copy = copies.find((c) => c.enrolment === this.row().enrolment);
      const gone = copy?.state === 'refused' || copy?.state === 'given-up';
      return copy ? [{ id, at, subject, fault: gone ? copy.fault : '' }] : [];
    }),
  );

  constructor() {
    effect(() => {
      const [book, enrolment] = [this.store.id(), this.row().enrolment];
      const path = book ? `/books/${book}/assessments/${this.assessment()}/threads/${enrolment}` : '';
      this.heard();
      untracked(() => void this.thread.open(path));
    });
  }

  protected when(at: string): string {
    return dayAndTime(at, this.zone());
  }

  protected fileAddress(submission: string, file: string): string {
    return `/api/v1/books/${encodeURIComponent(this.store.id())}/submissions/${submission}/files/${file}`;
  }

  protected get exceptions(): string[] {
    return ['/book', this.store.id(), 'exceptions'];
  }

  protected exception(make: string) {
    return { make, assessment: this.assessment(), student: this.row().enrolment };
  }

  protected async say(text: string): Promise<void> {
    const there = this.store.mayManage() ? this.thread.say(text) : this.thread.draft(text);
    if (await there) this.changed.emit();
  }

  protected async setAside(): Promise<void> {
    if (await this.thread.setAside()) this.changed.emit();
  }

  /** What is taken in for a student, as it was seen when one decided. */
  private accepting: Submission | null = null;
  protected readonly asking = signal<Question | null>(null);

  protected askAccept(s: Submission): void {
    this.accepting = s;
    this.asking.set(acceptQuestion(s));
  }

  protected async accept(reason: string): Promise<void> {
    const s = this.accepting;
    if (!s || reason.trim() === '') return;
    try {
      const body = { version: s.version, reason: reason.trim() };
      await this.operations.submit<HandedIn>('POST', `/books/${this.store.id()}/submissions/${s.id}/accept`, body);
      this.asking.set(null);
      this.changed.emit();
    } catch (error) {
      this.asking.update((q) => q && { ...q, problem: messageOf(error) });
    }
  }
}
