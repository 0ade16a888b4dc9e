import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { Decimals } from '../../ui/text/decimals';
import { ROWS } from '../../ui/layout/rows';
import { Router, RouterLink } from '@angular/router';
import type { EntryContent } from '@core/book/change';
import type { JournalPage } from '@contract/history';
import type { Line } from '@core/working/sentences';
import { Api, messageOf } from '../../data/api';
import { BookAnnotations, WHOLE } from '../../data/annotations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { AskText, type Question } from '../../ui/form/ask-text';
import { cellView, points } from '../../ui/text/cell-view';
import { day, dayAndTime } from '../../ui/text/dates';
import { lineWords, type Names } from '../../ui/text/journal/journal-words';
import { setWords } from '../../ui/text/journal/set-words';
import { TermLine } from '../../ui/chart/term-line';
import { WorkingLines } from '../../ui/text/working-lines';
import type { StandingAt } from '../../worker/protocol';
import { exceptionsOf } from './exceptions';
import { NOTE_LENGTH } from '@contract/wire/constants';
import { listName } from '../../ui/text/list-name';

interface Work {
  id: string;
  title: string;
  due: string;
  full: number;
  marked: string;
  taken: string;
  counts: string;
  look: string;
  words: string;
}

/** Everything of one student in a book: work, standing over the term, exceptions, notes, history. Made to be printed too. */
@Component({
  selector: 'lt-one-student',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, ROWS, RouterLink, TermLine, WorkingLines, AskText],
  templateUrl: './student-record.html',
  styleUrl: './student-record.css',
  host: { role: 'main', '(document:keydown)': 'key($event)' },
})
export class StudentRecordPage {
  /** The enrolment, from the address. */
  readonly student = input.required<string>();
  protected readonly store = inject(BookStore);
  private readonly annotations = inject(BookAnnotations);
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly router = inject(Router);

  protected readonly over = signal<StandingAt[]>([]);
  protected readonly standing = signal<Line[]>([]);
  private readonly contents = signal<{ item: string; content: EntryContent }[]>([]);
  private readonly journal = signal<JournalPage | null>(null);
  protected readonly problem = signal('');
  protected readonly asking = signal<Question | null>(null);

  protected readonly index = computed(() => this.store.studentIndex().get(this.student()) ?? -1);
  protected readonly person = computed(() => this.store.people().get(this.student()));
  protected readonly name = computed(() => this.nameOf(this.student()));
  protected readonly zone = computed(() => this.store.page()?.timeZone ?? 'UTC');
  protected readonly section = computed(() => this.store.sections().get(this.person()?.section ?? '') ?? '');
  protected readonly now = computed(() => {
    this.store.revision();
    return this.store.standings()[this.index()];
  });
  protected readonly edges = computed(() => {
    const rules = this.store.rules();
    return (rules?.scale ? rules.rules?.scales?.[rules.scale]?.bands : undefined) ?? [];
  });

  /** The work by category, in book order. */
  protected readonly categories = computed(() => {
    const all: { title: string; work: Work[] }[] = [];
    for (const id of this.store.items()) {
      const a = this.store.assessments().get(id);
      const category = this.store.categories().find((c) => c.id === a?.category);
      const info = category?.info as { title?: string } | undefined;
      const title = info?.title ?? category?.id ?? 'Other work';
      const work = this.workOf(id);
      if (!work) continue;
      const last = all[all.length - 1];
      if (last?.title === title) last.work.push(work);
      else all.push({ title, work: [work] });
    }
    return all;
  });

  protected readonly exceptions = computed(() =>
    this.contents().flatMap(({ item, content }) => {
      const message = exceptionsOf(content, this.zone());
      return message.length === 0
        ? []
        : [{ item, title: this.store.assessments().get(item)?.title ?? item, message: message.join(', ') }];
    }),
  );
  protected readonly remarks = computed(() =>
    [...this.annotations.notes().values()]
      .filter((r) => r.enrolment === this.student() && (r.note !== null || r.secondLookBy !== null))
      .map((r) => ({
        ...r,
        title: r.place === WHOLE ? 'The student' : (this.store.assessments().get(r.place)?.title ?? r.place),
        when: r.note ? day(r.note.at, this.zone()) : '',
      })),
  );
  protected readonly history = computed(() => {
    const page = this.journal();
    if (!page) return [];
    const names: Names = {
      zone: this.zone(),
      student: (id) => this.nameOf(id),
      assessment: (id) => this.store.assessments().get(id)?.title ?? id,
      note: (id) => page.notes[id],
      section: (id) => this.store.sections().get(id),
    };
    return page.sets.slice(0, 40).map((set) => ({
      batch: set.batch,
      when: dayAndTime(set.at, this.zone()),
      by: set.by,
      what:
        set.lines === 1 && set.shown[0]?.assessment ? names.assessment(set.shown[0].assessment) : setWords(set, names),
      words: set.lines === 1 ? lineWords(set.shown[0]!, names) : null,
      reason: set.undone ? 'put back' : set.reason,
    }));
  });

  constructor() {
    this.statusBar.keys.set([
      { key: '← →', label: 'the student before, the next' },
      { key: '?', label: 'all keys' },
    ]);
    inject(DestroyRef).onDestroy(this.statusBar.follow(() => this.student()));
    effect(() => {
      const name = this.name();
      untracked(() => this.statusBar.setIdle(name));
    });
    effect(() => {
      const student = this.student();
      this.store.revision();
      if (this.store.standings().length === 0 || this.index() < 0) return;
      untracked(() => void this.fetch(student));
    });
    effect(() => {
      const student = this.student();
      this.store.keeps();
      const book = this.store.id();
      if (book !== '') untracked(() => void this.fetchJournal(book, student));
    });
  }

  private async fetch(student: string): Promise<void> {
    const worker = this.store.worker();
    try {
      const [over, standing, contents] = await Promise.all([
        worker.overTerm(student),
        worker.explainStanding(student, this.store.titles()),
        worker.contents(student),
      ]);
      if (student !== this.student()) return;
      this.over.set(over);
      this.standing.set(standing.lines);
      this.contents.set(contents);
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private async fetchJournal(book: string, student: string): Promise<void> {
    try {
      const page = await this.api.get<JournalPage>(`/books/${book}/journal?enrolment=${encodeURIComponent(student)}`);
      if (student === this.student()) this.journal.set(page);
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private nameOf(id: string): string {
    const p = this.store.people().get(id);
    return p ? listName(p) : '';
  }

  private workOf(id: string): Work | null {
    this.store.revision();
    const cells = this.store.cells();
    const a = this.store.assessments().get(id);
    if (!cells || !a || this.index() < 0) return null;
    const at = this.store.atCell(this.student(), id);
    const drawn = cellView(cells, at, {
      asMarked: false,
      trouble: null,
      unkept: false,
      day: (moment) => day(moment, this.zone()),
    });
    const marked = cells.marked[at]!;
    return {
      id,
      title: a.title,
      due: a.due ? day(a.due, this.zone()) : '',
      full: a.points,
      marked: Number.isNaN(marked) ? '' : points(Math.round(marked / 100)),
      taken: drawn.taken,
      counts: drawn.text,
      look: drawn.look,
      words: drawn.words,
    };
  }

  /** The student before or after this one, by name. */
  protected next(by: -1 | 1): void {
    const students = this.store.students();
    const to = students[(this.index() + by + students.length) % students.length];
    if (to) void this.router.navigate(['/book', this.store.id(), 'student', to], { replaceUrl: true });
  }

  protected key(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
    if ((event.target as HTMLElement).closest('input, textarea, select, [role=dialog]')) return;
    if (event.key === 'ArrowRight') this.next(1);
    else if (event.key === 'ArrowLeft') this.next(-1);
  }

  protected print(): void {
    globalThis.print();
  }

  protected writeNote(): void {
    this.asking.set({
      id: this.student(),
      title: `Staff note: ${this.name()}`,
      label: 'Students never see it. Ctrl+Enter keeps it; an empty one takes it away.',
      value: this.annotations.noteAt(this.student(), WHOLE).note?.text ?? '',
      does: 'Keep it',
      most: NOTE_LENGTH,
      long: true,
    });
  }

  protected async keepNote(note: string): Promise<void> {
    const question = this.asking()!;
    try {
      await this.annotations.write(question.id, WHOLE, { note });
      this.asking.set(null);
    } catch (error) {
      this.asking.set({ ...question, value: note, problem: messageOf(error) });
    }
  }
}
