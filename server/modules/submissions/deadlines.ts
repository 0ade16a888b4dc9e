import { compileBook } from '@core/calculation/compiled/compile';
import { effectiveDates } from '@core/calculation/cells/dates';
import { workOutStudent } from '@core/calculation/final';
import { assembleBook, assembleSkeleton } from '@core/book/assemble';
import type { RulesPart } from '@core/book/change';
import type { Attempt, Entry } from '@core/book/document';
import { formatMoment } from '@core/time/moment';
import { explainItem } from '@core/working/explain-item';
import { sentences, type Line } from '@core/working/sentences';
import { type AssessmentRow, type BookRow, type StudentRow, toDocumentStudent, toPlacedItem } from '../books';
import type { CellRow } from '../../kernel/cells/sql';

/** What dates and lateness are worked out from. */
export interface DatedBook {
  row: BookRow;
  rules: RulesPart;
  assessments: AssessmentRow[];
  asOf: string;
}

type Dated = Pick<StudentRow, 'id' | 'section' | 'extraTimeHours' | 'variant'>;

/** Each student's own dates on one assessment, and what its rule makes of work that comes at a moment. */
export class Deadlines {
  private readonly compiled;
  private readonly skeleton;
  private readonly item;

  constructor(
    private readonly book: DatedBook,
    private readonly assessment: AssessmentRow,
    private readonly students: readonly Dated[],
    private readonly cells: ReadonlyMap<string, CellRow>,
    /** When other work came, where a bank of late units looks at that. */
    private readonly others: readonly Entry[] = [],
  ) {
    const { row, rules, assessments, asOf } = book;
    this.skeleton = assembleSkeleton(row.timeZone, rules, assessments.map(toPlacedItem));
    this.compiled = compileBook(assembleBook(this.skeleton, asOf, students.map(toDocumentStudent), []));
    this.item = this.compiled.items.find((i) => i.id === assessment.id)!;
  }

  /** RFC 3339, or null where there is none. */
  of(enrolment: string): { due: string | null; closes: string | null } {
    const at = this.compiled.studentIndex.get(enrolment)!;
    const { due, closes } = effectiveDates(this.compiled, this.item, at, this.entry(enrolment));
    const text = (moment: number | null): string | null => (moment === null ? null : formatMoment(moment));
    return { due: text(due), closes: text(closes) };
  }

  /** What the rule takes from full marks that come in then, in its sentences; none where it is in time. */
  lateness(enrolment: string, receivedAt: string): Line[] {
    const { due, closes } = this.of(enrolment);
    const isAfter = (date: string | null): boolean => date !== null && Date.parse(receivedAt) > Date.parse(date);
    if (this.item.late === null || !(isAfter(due) || isAfter(closes))) return [];
    const { row, asOf, assessments } = this.book;
    const student = this.students.find((s) => s.id === enrolment)!;
    const entry = this.entry(enrolment, [{ receivedAt, score: this.assessment.points }]);
    const others = this.others.filter((e) => e.student === enrolment && e.item !== this.assessment.id);
    const alone = compileBook(assembleBook(this.skeleton, asOf, [toDocumentStudent(student)], [entry, ...others]));
    const item = alone.items.find((i) => i.id === this.assessment.id)!;
    const titles = new Map(assessments.map((a) => [a.id, a.title]));
    return sentences(
      explainItem(alone, workOutStudent(alone, 0), item).filter((s) => s.step === 'late'),
      { timeZone: row.timeZone, name: (id) => titles.get(id) ?? id },
    );
  }

  private entry(enrolment: string, attempts?: Attempt[]): Entry {
    const { state: _s, set: _p, attempts: _a, ...own } = this.cells.get(enrolment)?.content ?? {};
    return { student: enrolment, item: this.assessment.id, ...own, ...(attempts ? { attempts } : {}) };
  }
}

/** Of a cell what a bank of late units looks at; `seen`: of the attempts only those that the student handed in. */
export function arrivalEntry({ enrolment, assessment, content, handedIn }: CellRow, seen: boolean): Entry {
  const { dueAt, closesAt, lateAllowances, attempts = [] } = content;
  const excused = content.state === 'excused' ? ('excused' as const) : undefined;
  return {
    student: enrolment,
    item: assessment,
    ...(excused && { state: excused }),
    ...(dueAt !== undefined && { dueAt }),
    ...(closesAt !== undefined && { closesAt }),
    ...(lateAllowances !== undefined && { lateAllowances }),
    attempts: attempts
      .filter((_, i) => !seen || handedIn[i])
      .map(({ receivedAt, onTime, lateUnits }) => ({
        ...(receivedAt !== undefined && { receivedAt }),
        ...(onTime !== undefined && { onTime }),
        ...(lateUnits !== undefined && { lateUnits }),
      })),
  };
}
