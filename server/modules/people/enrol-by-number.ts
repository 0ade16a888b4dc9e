import { type Enrol, type Enrolled } from '@contract/people';
import type pg from 'pg';
import { newId } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { type Author, commitBook, enrol, studentsOf, sectionsOf } from '../books';
import { enrolText } from '../scores';

/** Enrols students by their number; those in the book already stay as they are. All or none. */
export function enrolByNumber(pool: pg.Pool, who: Author, body: Enrol): Promise<Enrolled> {
  return commitBook(pool, who, newId('enrol'), async (db) => {
    const { school, book } = who;
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
    const byNumber = new Map(
      body.students.map((s) => [s.number, { section: s.section, extraTimeHours: s.extraTimeHours ?? 0 }]),
    );
    return {
      lines: rows
        .filter((r) => !before.has(r.id))
        .map((r) => ({
          kind: 'enrol',
          assessment: null,
          enrolment: r.id,
          was: null,
          becomes: enrolText({ ...byNumber.get(r.number)!, left: false }),
        })),
      answer: () => ({ enrolments: rows }),
    };
  });
}
