import { counted } from '@core/words/count';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { Decimals } from '../../ui/text/decimals';
import { InputText } from 'primeng/inputtext';
import { FormsModule } from '@angular/forms';
import { Button } from 'primeng/button';
import { MultiSelect } from 'primeng/multiselect';
import { Select } from 'primeng/select';
import type { CellException } from '@core/book/exceptions';
import type { AssessmentWhole } from '@contract/assessments';
import type { ChangesMade, ChangesWrite } from '@contract/scores';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { schoolNow } from '../../ui/text/dates';
import { StatusBar } from '../../ui/layout/status-bar';
import { Choice } from '../../ui/form/choice';
import { DayBox } from '../../ui/form/day-box';
import { gradeIn } from '../../ui/text/amount';
import { readDay } from '../../ui/text/read-day';
import type { StudentWhatIf } from '../../worker/what-if';
import { canEnd, isWhole, MADE, madeOf, type Made, type MadeKind, type Target } from './exception-maker';
import type { ExceptionList } from '@contract/scores';

const NEEDS: Record<string, string> = {
  'day-or-days': '30 Nov 17:00, or +3 days',
  day: '30 Nov 17:00',
  count: '1',
  score: '14.5, or 70%',
  hours: '24',
  grade: '64.5, or B',
};

/** The sentence in which an exception is made, with what it would change worked out before it is. */
@Component({
  selector: 'lt-exception-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, InputText, FormsModule, Select, MultiSelect, Button, Choice, DayBox],
  templateUrl: './exception-form.html',
  styleUrl: './exception-form.css',
  host: { '(document:keydown.control.enter)': 'make()', '(document:keydown.meta.enter)': 'make()' },
})
export class ExceptionForm {
  readonly list = input<ExceptionList | null>(null);
  /** What is chosen already, from the address; several students with commas. */
  readonly student = input('');
  readonly assessment = input('');
  /** The kind that was asked for. */
  readonly asked = input('');
  readonly made = output<void>();
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);

  protected readonly kinds = [...MADE];
  protected readonly kind = signal<MadeKind>('excused');
  protected readonly students = signal<string[]>([]);
  protected readonly items = signal<string[]>([]);
  protected readonly value = signal('');
  protected readonly reason = signal('');
  protected readonly ends = signal<string | null | undefined>(null);
  protected readonly tell = signal('');
  /** Opened again as a new attempt, or in place of the last one. */
  protected readonly again = signal<'new' | 'same'>('new');
  protected readonly AGAIN = [
    { value: 'new', text: 'a new attempt' },
    { value: 'same', text: 'the same attempt' },
  ];
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  private readonly whole = signal<AssessmentWhole[]>([]);
  private readonly targets = signal<Target[]>([]);
  protected readonly tried = signal<StudentWhatIf[]>([]);
  /** Those for whom the same wish was made already, where it failed on the way. */
  private partly = { text: '', done: new Set<string>() };

  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly near = computed(() => this.store.page()?.asOf ?? schoolNow());
  protected readonly forWhole = computed(() => isWhole(this.kind()));
  protected readonly mayEnd = computed(() => canEnd(this.kind()));
  protected readonly needs = computed(() => MADE.find((m) => m.kind === this.kind())!.needs);
  protected readonly hint = computed(() => NEEDS[this.needs()] ?? '');
  protected readonly wantsReason = computed(() => this.list()?.wantsReasons === true);
  protected readonly people = computed(() =>
    (this.store.page()?.students ?? []).map((s) => ({
      id: s.id,
      name: s.given ? `${s.family}, ${s.given}` : s.family,
      section: this.store.sections().get(s.section ?? '') ?? '',
    })),
  );
  protected readonly sections = computed(() => this.store.page()?.sections ?? []);
  protected readonly assessments = computed(() => {
    const veiled = this.store.veiled();
    return (this.store.page()?.assessments ?? []).filter((a) => veiled === '' || a.id === veiled);
  });
  protected readonly result = computed<Made>(() => {
    const text = this.value();
    // The box for a day gives the moment as it understood it.
    const day = /^\d{4}-.*Z$/.test(text) ? text : readDay(text, { zone: this.zone(), near: this.near() });
    return madeOf(this.kind(), this.targets(), { text, day }, this.zone());
  });
  protected readonly refused = computed(() => {
    const r = this.result();
    return 'message' in r ? r.message : '';
  });
  protected readonly count = computed(() => {
    const r = this.result();
    return 'message' in r ? 0 : this.forWhole() ? this.students().length : r.cells.length;
  });
  protected readonly left = computed(() => {
    const r = this.result();
    return 'message' in r ? '' : r.left;
  });
  protected readonly moved = computed(() =>
    this.tried()
      .filter((t) => t.before.percent !== t.after.percent || t.before.letter !== t.after.letter)
      .map((t) => ({ ...t, name: this.people().find((p) => p.id === t.student)?.name ?? t.student })),
  );
  protected readonly sum = computed(() => {
    const n = this.count();
    if (n === 0) return '';
    const what = this.forWhole() ? counted(n, 'student') : counted(n, 'cell');
    const m = this.moved().length;
    const moves = this.forWhole()
      ? ''
      : m === 0
        ? ', no standing changes now'
        : `, ${counted(m, 'standing changes', 'standings change')}`;
    return what + moves;
  });
  protected readonly ready = computed(
    () =>
      this.count() > 0 &&
      this.ends() !== undefined &&
      !(this.wantsReason() && this.reason().trim() === '') &&
      !this.busy(),
  );

  constructor() {
    effect(() => {
      const [student, assessment] = [this.student(), this.assessment()];
      if (student) this.students.set(student.split(','));
      if (assessment) this.items.set([assessment]);
    });
    effect(() => {
      const made = MADE.find((m) => m.kind === this.asked());
      if (made) this.kind.set(made.kind);
    });
    effect(() => {
      const id = this.store.id();
      if (id)
        untracked(() =>
          this.api
            .get<AssessmentWhole[]>(`/books/${id}/assessments`)
            .then((all) => this.whole.set(Array.isArray(all) ? all : []))
            .catch((error: unknown) => this.failure.set(messageOf(error))),
        );
    });
    effect(() => {
      this.store.revision();
      const [students, items, whole] = [this.students(), this.items(), this.whole()];
      // The worker is asked once it has the book.
      if (this.store.cells()) void this.find(students, items, whole);
    });
    effect(() => {
      const r = this.result();
      void this.tryOut('message' in r ? [] : r.cells);
    });
  }

  /** What each chosen cell holds now, and when it is due. */
  private async find(students: string[], items: string[], whole: AssessmentWhole[]): Promise<void> {
    const targets: Target[] = [];
    for (const student of students) {
      const contents = new Map((await this.store.worker().contents(student)).map((c) => [c.item, c.content]));
      const section = this.store.people().get(student)?.section ?? '';
      for (const item of items) {
        const a = whole.find((x) => x.id === item) ?? this.store.assessments().get(item);
        if (!a) continue;
        const dates = 'more' in a ? a.more.sectionDates?.[section] : undefined;
        targets.push({ student, item, points: a.points, due: dates?.due ?? a.due, content: contents.get(item) ?? {} });
      }
    }
    if (students === this.students() && items === this.items()) this.targets.set(targets);
  }

  private async tryOut(cells: { student: string; item: string; change: Target['content'] | unknown }[]): Promise<void> {
    const tried = cells.length === 0 ? [] : await this.store.worker().whatIfCells(cells as never);
    const now = this.result();
    if (!('message' in now) && now.cells === cells) this.tried.set(tried);
    else if (cells.length === 0) this.tried.set([]);
  }

  protected choose(kind: MadeKind): void {
    this.kind.set(kind);
    this.value.set(kind === 'allowance' ? '1' : '');
    this.ends.set(null);
    this.failure.set('');
  }

  protected all(section: string | null): void {
    const chosen = (this.store.page()?.students ?? []).filter((s) => section === null || s.section === section);
    this.students.set(chosen.map((s) => s.id));
  }

  protected async make(): Promise<void> {
    if (!this.ready()) return;
    this.busy.set(true);
    this.failure.set('');
    try {
      const n = await this.send();
      const hidden = this.items().some((i) => this.store.hidden().has(i));
      this.statusBar.announce(
        `${MADE.find((m) => m.kind === this.kind())!.label}: kept for ${n}.${hidden ? ' It is not listed here while names are hidden.' : ''}`,
      );
      this.reason.set('');
      this.tell.set('');
      this.value.set(this.kind() === 'allowance' ? '1' : '');
      this.made.emit();
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  private async send(): Promise<string> {
    const [kind, book, reason] = [this.kind(), this.store.id(), this.reason().trim()];
    const until = this.mayEnd() ? (this.ends() ?? null) : null;
    if (kind === 'extra-time') {
      const wish = {
        enrolments: this.students(),
        extraTimeHours: Number(this.value().replace(',', '.')),
        until,
        reason,
      };
      await this.operations.submit('PATCH', `/books/${book}/enrolments`, wish);
      await this.store.reload();
      return this.sum();
    }
    if (kind === 'override') {
      const grade = gradeIn(this.value());
      const text = JSON.stringify({ grade, reason, until });
      if (this.partly.text !== text) this.partly = { text, done: new Set() };
      for (const student of this.students()) {
        if (this.partly.done.has(student)) continue;
        const version = this.list()?.overrides.find((o) => o.enrolment === student)?.version ?? 0;
        await this.operations.submit('PUT', `/books/${book}/overrides/${student}`, {
          version,
          ...grade,
          reason,
          until,
        });
        this.partly.done.add(student);
      }
      this.partly = { text: '', done: new Set() };
      await this.store.reload();
      return this.sum();
    }
    const made = this.result();
    if ('message' in made) throw new Error(made.message);
    const said = this.sum();
    const wish: Omit<ChangesWrite, 'operation'> = {
      kind: 'exception',
      title: MADE.find((m) => m.kind === kind)!.label,
      ...(reason ? { reason } : {}),
      ...(until ? { ends: { kind: kind as CellException, at: until } } : {}),
      ...(kind === 'open-again' ? { again: this.again() } : {}),
      ...(kind === 'open-again' && this.tell().trim() ? { tell: this.tell().trim() } : {}),
      cells: made.cells.map(({ student, item, change }) => ({
        assessment: item,
        enrolment: student,
        version: this.store.cells()?.version[this.store.atCell(student, item)] ?? 0,
        change,
      })),
    };
    const { cells } = await this.operations.submit<ChangesMade>('POST', `/books/${book}/changes`, wish);
    await this.store.settle(cells);
    return said;
  }
}
