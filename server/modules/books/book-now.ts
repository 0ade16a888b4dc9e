import type { RulesPart } from '@core/book/change';
import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';
import type { BatchLine } from '../../kernel/journal/sql/batches';
import type { Who } from '../../kernel/journal/sql/lines';
import type { PutBackWay } from './journal-kind';
import { assessmentsOf, type AssessmentRow } from './sql/assessments';
import { findBook, rulesAt, type BookRow } from './sql/books';
import { studentsOf, type StudentRow } from './sql/enrolments';
import { overridesOf, type OverrideRow } from './sql/overrides';

/** What of a book, its cells and notes apart, the journal's lines are about, as it is now. */
export interface BookNow {
  row: BookRow;
  rules: RulesPart;
  assessments: AssessmentRow[];
  students: Map<string, StudentRow>;
  overrides: Map<string, OverrideRow>;
}

export async function bookNow(db: Db, { school, book }: Who): Promise<BookNow> {
  const row = (await findBook(db, school, book))!;
  return {
    row,
    rules: await rulesAt(db, school, book, row.rulesVersion),
    assessments: await assessmentsOf(db, school, book, true),
    students: new Map((await studentsOf(db, school, book, true)).map((s) => [s.id, s])),
    overrides: new Map((await overridesOf(db, school, book)).map((o) => [o.enrolment, o])),
  };
}

/** How lines about a part of the book's frame are put back. */
interface FramePart {
  /** What the place of a line holds now, as the journal would write it. */
  text(line: BatchLine, now: BookNow): string | null;
  /** Makes it what it was. `now` is kept as it becomes, for the next line of the set. */
  restore(db: BookTransaction, who: Who, line: BatchLine, now: BookNow, reason: string): Promise<void>;
}

export const frameWay = ({ text, restore }: FramePart): PutBackWay => ({
  frame: true,
  async open(_db, who, _lines, read) {
    const now = await read();
    return {
      said: (line) => line.becomes,
      text: (line) => text(line, now),
      async put(db, line, reason) {
        await restore(db, who, line, now, reason);
        const { kind, assessment, enrolment } = line;
        return { kind, assessment, enrolment, was: line.becomes, becomes: line.was };
      },
    };
  },
});
