import { inject, Injectable } from '@angular/core';
import type { AssessmentMade, AssessmentWrite } from '@contract/assessments';
import type { Marking } from '@contract/work/marking';
import type { ExceptionList, OverrideWrite } from '@contract/scores';
import { counted } from '@core/words/count';
import { Api, messageOf } from '../../../data/api';
import { Operations } from '../../../data/operations';
import { NoteAppender } from '../../../data/work/outbox/note-appender';
import { StatusBar } from '../../../ui/layout/status-bar';
import type { BookAct } from '../editor/slash-words';
import { LedgerView } from '../view/ledger-view';

/** What was looked at before an act: the versions that it names. */
interface Looked {
  assessments: ReadonlyMap<string, number>;
  overrides: Promise<ReadonlyMap<string, number>> | null;
}

/** Whom and what an act is about. */
interface Aim {
  students: readonly string[];
  columns: readonly string[];
  cells: readonly { student: string; item: string }[];
}

/** An act on its way: what it is about, what was looked at, and of what it is done already. */
interface Doing {
  aim: Aim;
  looked: Looked;
  made: Set<string>;
  reason: string;
}

/** Acts of the ledger's words on more than cells: the points of assessments, final grades, words to students. */
@Injectable()
export class BookActs {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly appender = inject(NoteAppender);
  private readonly statusBar = inject(StatusBar);
  private looked: Looked | null = null;
  private made = new Set<string>();

  /** The line is opened anew: nothing was looked at yet. */
  begin(): void {
    this.looked = null;
    this.made = new Set();
  }

  /** An act is shown: what it would change is remembered as it is now. */
  look(act: BookAct): void {
    this.looked ??= {
      assessments: new Map([...this.store.assessments()].map(([id, a]) => [id, a.version])),
      overrides: null,
    };
    if (act.kind !== 'final' || this.looked.overrides) return;
    const looked = this.looked;
    looked.overrides = this.api
      .get<ExceptionList>(`/books/${this.store.id()}/exceptions`)
      .then(({ overrides }) => new Map(overrides.map((o) => [o.enrolment, o.version])));
    // Asked again at the next look; whoever waits for it hears why.
    looked.overrides.catch(() => (looked.overrides = null));
  }

  /** The students of the selected rows. */
  students(): string[] {
    const { top, bottom } = this.view.selection();
    return this.view
      .rows()
      .slice(top, bottom + 1)
      .map((s) => this.store.students()[s]!);
  }

  /** The assessments of the selected columns. */
  columns(): string[] {
    return [...new Set(this.view.cells().map((c) => c.item))];
  }

  /** Whom and what is selected now. */
  private aim(): Aim {
    return { students: this.students(), columns: this.columns(), cells: this.view.cells() };
  }

  /** Why an act cannot be done here; '' where it can. */
  async problem(act: BookAct, aim = this.aim(), looked = this.looked): Promise<string> {
    if (act.kind !== 'feedback' && !this.store.mayManage()) return 'Only the teachers of this book do this.';
    if (act.kind !== 'final') return aim.columns.length === 0 ? 'Choose a cell of the assessment first.' : '';
    if (act.percent !== null || act.letter !== null) return '';
    const overrides = await looked?.overrides;
    const set = aim.students.some((id) => overrides?.has(id));
    return set ? '' : 'No final grade is set by hand here, so there is none to end.';
  }

  /**
   * Does it to what is selected at this moment, wherever the cursor goes meanwhile. Gives '' once it is done, or why it is
   * not; what was done already is not done again.
   */
  async make(act: BookAct, reason: string): Promise<string> {
    this.look(act);
    const doing: Doing = { aim: this.aim(), looked: this.looked!, made: this.made, reason };
    try {
      const problem = await this.problem(act, doing.aim, doing.looked);
      if (problem !== '') return problem;
      if (act.kind === 'points') await this.setPoints(act, doing);
      else if (act.kind === 'final') await this.setFinal(act, doing);
      else await this.addFeedback(act.words, doing);
      return '';
    } catch (error) {
      return messageOf(error);
    }
  }

  private async setPoints(
    act: Extract<BookAct, { kind: 'points' }>,
    { aim: { columns }, looked, made, reason }: Doing,
  ): Promise<void> {
    for (const id of columns) {
      const of = this.store.assessments().get(id)!;
      if (of.points === act.points || made.has(id)) continue;
      const write: Omit<AssessmentWrite, 'operation'> = {
        ...{ version: looked.assessments.get(id) ?? of.version, points: act.points, scores: act.scores },
        ...{ reason, tell: null },
      };
      await this.operations.submit<AssessmentMade>('PATCH', `/books/${this.store.id()}/assessments/${id}`, write);
      made.add(id);
    }
    await this.store.reload();
    const what = columns.length === 1 ? this.store.assessments().get(columns[0]!)!.title : counted(columns.length, 'assessment'); // prettier-ignore
    this.statusBar.announce(`${what}: out of ${act.points} now.`);
  }

  private async setFinal(
    act: Extract<BookAct, { kind: 'final' }>,
    { aim: { students }, looked, made, reason }: Doing,
  ): Promise<void> {
    const versions = await looked.overrides!;
    const grade = { percent: act.percent, letter: act.letter };
    for (const id of students) {
      if (made.has(id)) continue;
      const write: Omit<OverrideWrite, 'operation'> = { version: versions.get(id) ?? 0, ...grade, reason, until: null };
      await this.operations.submit('PUT', `/books/${this.store.id()}/overrides/${id}`, write);
      made.add(id);
    }
    await this.store.reload();
    const ends = act.percent === null && act.letter === null;
    this.statusBar.announce(
      `${ends ? 'The final grade is worked out again' : 'The final grade is set'} for ${counted(students.length, 'student')}.`,
    );
  }

  private async addFeedback(words: string, { aim: { cells, columns }, made }: Doing): Promise<void> {
    const book = this.store.id();
    const works = new Map<string, ReadonlyMap<string, string>>();
    for (const item of columns) {
      const { works: now } = await this.api.get<Marking>(`/books/${book}/assessments/${item}/marking`);
      works.set(item, new Map(now.map((w) => [w.enrolment, w.work])));
    }
    for (const { student, item } of cells) {
      const work = works.get(item)?.get(student);
      if (work === undefined || made.has(`${student} ${item}`)) continue;
      if (!(await this.appender.add({ book, assessment: item, enrolment: student, work }, words)))
        throw new Error('The end note could not be opened: there is no line. Try it again.');
      made.add(`${student} ${item}`);
    }
    const left = cells.length - made.size;
    this.statusBar.announce(
      `Added to ${counted(made.size, 'end note')}. It is read once it is released.${left > 0 ? ` ${counted(left, 'cell')} could not be written to.` : ''}`,
    );
  }
}
