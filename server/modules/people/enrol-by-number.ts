import { type Who, reserveJournalNumbers, writeLines } from '../../kernel/journal/sql/lines';
import { enrolText } from '../scores';
import { Refusal } from '../../kernel/refusal';
import { transaction } from '../../kernel/database';
import { enrol, studentsOf, findBook, sectionsOf } from '../books';
import { type Enrol, type Enrolled } from '@contract/people';
import type pg from 'pg';

/** Enrols students by their number; those in the book already stay as they are. All or none. */
export async function enrolByNumber(pool: pg.Pool, { school, book, person }: Who, body: Enrol): Promise<Enrolled> {
  return transaction(pool, async (db) => {
    if (!(await findBook(db, school, book))) throw new Refusal('not-found', 'There is no such book.');
    const sections = new Set((await sectionsOf(db, school, book)).map((s) => s.id));
    const wrong = body.students.find((s) => s.section !== null && !sections.has(s.section));
    if (wrong) throw new Refusal('bad-request', `The book has no section “${wrong.section}”. Nobody was enrolled.`);
    const before = new Set((await studentsOf(db, school, book, true)).map((s) => s.id));
    const rows = await enrol(
      db,
      school,
      book,
      body.students.map((s) => ({ ...s, extraTimeHours: s.extraTimeHours ?? 0 })),
    );
    const known = new Set(rows.map((r) => r.number));
    const unknown = body.students.filter((s) => !known.has(s.number));
    if (unknown.length > 0)
      throw new Refusal(
        'bad-request',
        `${unknown.length} of these numbers belong to no student (${unknown[0]!.number}). Nobody was enrolled.`,
      );
    const fresh = rows.filter((r) => !before.has(r.id));
    const byNumber = new Map(
      body.students.map((s) => [s.number, { section: s.section, extraTimeHours: s.extraTimeHours ?? 0 }]),
    );
    if (fresh.length > 0) {
      const first = await reserveJournalNumbers(db, school, book, fresh.length);
      const lines = fresh.map((r) => ({
        operation: `enrol-${r.id}`,
        kind: 'enrol' as const,
        assessment: null,
        enrolment: r.id,
        was: null,
        becomes: enrolText({ ...byNumber.get(r.number)!, left: false }),
      }));
      await writeLines(db, { school, book, person }, first, lines);
    }
    return { enrolments: rows };
  });
}
