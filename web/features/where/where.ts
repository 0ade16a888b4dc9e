import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  resource,
  signal,
  untracked,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Store } from '@ngrx/store';
import { Button } from 'primeng/button';
import { Dialog } from 'primeng/dialog';
import { InputText } from 'primeng/inputtext';
import type { HandedIn, Where, WhereFinding, WhereStudents } from '@contract/work/submissions';
import { Api, messageOf } from '../../data/api';
import { LastList } from '../../data/work/last-list';
import { Operations } from '../../data/operations';
import { sessionFeature } from '../../data/session';
import { acceptQuestion } from '../../ui/form/accept-question';
import { AskText, type Question } from '../../ui/form/ask-text';
import { Choice } from '../../ui/form/choice';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { StatusBar } from '../../ui/layout/status-bar';
import { aboutFindings, findingWords, repairsOf, type Repair } from './finding-words';

/** Milliseconds after the last key until students are looked for. */
const PAUSE = 250;
/** Students that the server offers at once. */
const MOST = 30;

/** Of all assessments these are said in a line each, not one by one. */
const QUIET: WhereFinding['kind'][] = ['nothing', 'elsewhere', 'recorded', 'excused'];

const REPAIR_WORDS: Record<Repair, string> = {
  look: 'look at it',
  accept: 'take in what lies there',
  move: 'move it …',
  'open-again': 'open again …',
};

/** Where is …? A student, and an assessment or all: what became of the work, and the repair one step away. */
@Component({
  selector: 'lt-where',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [AskText, Button, Choice, Dialog, FormsModule, InputText, RouterLink],
  templateUrl: './where.html',
  styleUrl: './where.css',
  host: { role: 'main' },
})
export class WherePage {
  /** A few letters of a name to begin with. */
  readonly words = input<string>();
  /** Whom it is about, from the address: a person, or the student of an open book. */
  readonly person = input<string>();
  readonly of = input<string>();
  readonly enrolment = input<string>();
  /** As "book/assessment"; '' all. */
  readonly about = input<string>();
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly lastList = inject(LastList);
  protected readonly typed = signal('');
  protected readonly students = signal<WhereStudents>([]);
  protected readonly searching = signal('');
  private timer: ReturnType<typeof setTimeout> | undefined;

  private readonly found = resource({
    params: () => {
      const who: Record<string, string> | null = this.person()
        ? { person: this.person()! }
        : this.of() && this.enrolment()
          ? { of: this.of()!, enrolment: this.enrolment()! }
          : null;
      if (!who) return undefined;
      const [book, assessment] = (this.about() ?? '').split('/');
      return new URLSearchParams({ ...who, ...(book && assessment ? { book, assessment } : {}) }).toString();
    },
    loader: ({ params }) => this.api.get<Where | null>(`/where?${params}`),
  });
  protected readonly where = computed(() => (this.found.hasValue() ? (this.found.value() ?? null) : null));
  protected readonly problem = computed(() => (this.found.error() ? messageOf(this.found.error()) : ''));
  protected readonly summary = computed(() => (this.where() ? aboutFindings(this.where()!.findings) : ''));
  /** What came or was begun first; of all assessments those of which nothing is known are one line. */
  protected readonly known = computed(() =>
    (this.where()?.findings ?? []).filter((f) => (this.about() ?? '') !== '' || !QUIET.includes(f.kind)),
  );
  /** Titles of those that are said in one line, of one kind. */
  protected titlesOf(kind: WhereFinding['kind']): string {
    const rest = (this.where()?.findings ?? []).filter((f) => !this.known().includes(f) && f.kind === kind);
    return rest.map((f) => f.title).join(', ');
  }
  protected readonly abouts = computed(() => {
    const all = this.where()?.findings ?? [];
    const places = new Map(all.map((f) => [`${f.book}/${f.assessment}`, `${f.title}, ${f.bookTitle}`]));
    for (const a of this.where()?.assessments ?? [])
      places.set(`${a.book}/${a.assessment}`, `${a.title}, ${a.bookTitle}`);
    return [{ value: '', text: 'all assessments' }, ...[...places].map(([value, text]) => ({ value, text }))];
  });
  /** The list that one came from, where its filter hides this student, and who that is there. */
  protected readonly hidden = computed(() => {
    const hides = this.lastList.hides();
    const here = (this.where()?.findings ?? []).find(
      (f) => f.book === hides?.book && hides.enrolments.has(f.enrolment),
    );
    return hides && here ? { ...hides, student: here.enrolment, bookTitle: here.bookTitle } : null;
  });
  protected readonly LINES = [
    { kind: 'nothing', words: 'Nothing came for' },
    { kind: 'recorded', words: 'Recorded by hand, with nothing handed in here:' },
    { kind: 'excused', words: 'Excused from' },
  ] as const;
  protected readonly findingWords = findingWords;
  protected readonly repairsOf = repairsOf;
  protected readonly REPAIR_WORDS = REPAIR_WORDS;

  constructor() {
    inject(Breadcrumbs).set(inject(Store).selectSignal(sessionFeature.selectMe)()?.school ?? '', 'Where is …?');
    effect(() => {
      const words = this.words();
      if (words !== undefined) untracked(() => this.type(words));
    });
    effect(() => {
      const name = this.where()?.name;
      if (name) untracked(() => this.typed.set(name));
    });
  }

  protected type(words: string): void {
    this.typed.set(words);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.search(words), PAUSE);
  }

  private async search(words: string): Promise<void> {
    this.searching.set('');
    if (words.trim() === '') return this.students.set([]);
    try {
      const students = await this.api.get<WhereStudents>(
        `/where/students?${new URLSearchParams({ words }).toString()}`,
      );
      if (this.typed() !== words) return;
      this.students.set(students);
      if (students.length >= MOST)
        this.statusBar.announce(`The first ${MOST} that fit stand here; more letters tell them apart.`);
      if (students.length === 0) this.searching.set('Nobody of that name or number in your books.');
    } catch (error) {
      this.searching.set(messageOf(error));
    }
  }

  protected pick(person: string): void {
    this.students.set([]);
    clearTimeout(this.timer);
    void this.router.navigate([], { queryParams: { person } });
  }

  protected first(): void {
    const [one] = this.students();
    if (one) this.pick(one.person);
  }

  protected narrow(about: string): void {
    void this.router.navigate([], { queryParams: { person: this.where()?.person, ...(about ? { about } : {}) } });
  }

  protected repair(f: WhereFinding, repair: Repair): void {
    if (repair === 'move') return this.askMove(f);
    if (repair === 'accept') return this.askAccept(f);
    if (repair === 'open-again')
      return void this.router.navigate(['/book', f.book, 'exceptions'], {
        queryParams: { make: 'open-again', assessment: f.assessment, student: f.enrolment },
      });
    void this.router.navigate(['/book', f.book, 'assessments', f.assessment, 'arrivals'], {
      queryParams: { student: f.enrolment },
    });
  }

  /** What is moved, as it was seen when one decided. */
  protected readonly moving = signal<WhereFinding | null>(null);
  protected readonly to = signal('');
  protected readonly reason = signal('');
  protected readonly busy = signal(false);
  protected readonly moveProblem = signal('');
  protected readonly places = computed(() => {
    const f = this.moving();
    return (this.where()?.assessments ?? [])
      .filter((a) => a.takesWork && !(a.book === f?.book && a.assessment === f.assessment))
      .map((a) => ({ value: `${a.book}/${a.assessment}`, text: `${a.title}, ${a.bookTitle}` }));
  });

  private askMove(f: WhereFinding): void {
    this.moving.set(f);
    this.to.set('');
    this.reason.set('');
    this.moveProblem.set('');
  }

  protected async move(): Promise<void> {
    const f = this.moving();
    const [book, assessment] = this.to().split('/');
    if (!f?.submission || !book || !assessment || this.reason().trim() === '') return;
    this.busy.set(true);
    this.moveProblem.set('');
    try {
      const body = { version: f.submission.version, to: { book, assessment }, reason: this.reason().trim() };
      await this.operations.submit<HandedIn>('POST', `/books/${f.book}/submissions/${f.submission.id}/move`, body);
      const goal = this.places().find((p) => p.value === this.to())?.text ?? '';
      this.statusBar.announce(`Moved to ${goal}, with its receipt and times. The student was told.`);
      this.moving.set(null);
      this.found.reload();
    } catch (error) {
      this.moveProblem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  private accepting: WhereFinding | null = null;
  protected readonly asking = signal<Question | null>(null);

  private askAccept(f: WhereFinding): void {
    this.accepting = f;
    this.asking.set(acceptQuestion(f.submission!));
  }

  protected async accept(reason: string): Promise<void> {
    const s = this.accepting?.submission;
    if (!s || reason.trim() === '') return;
    try {
      const body = { version: s.version, reason: reason.trim() };
      await this.operations.submit<HandedIn>('POST', `/books/${this.accepting!.book}/submissions/${s.id}/accept`, body);
      this.asking.set(null);
      this.found.reload();
    } catch (error) {
      this.asking.update((q) => q && { ...q, problem: messageOf(error) });
    }
  }
}
