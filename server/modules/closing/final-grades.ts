import { areNamesHidden } from '@core/work/hidden-names';
import { finalGradesCsv } from '@core/export/final-grades';
import { computeBook } from '@core/calculation/result';
import { sectionsOf, assemble } from '../books';
import { showFirst } from '../hidden-names';
import type { Db } from '../../kernel/database';
import { findSchool } from '../accounts';

/** The final grades of a book as a CSV file, by the core from the same document that the ledger shows. */
export async function finalGrades(db: Db, school: string, book: string): Promise<{ name: string; text: string }> {
  const assembled = await assemble(db, school, book);
  const hidden = assembled.assessments.filter((a) => areNamesHidden(a.work));
  if (hidden.length > 0)
    throw showFirst(
      hidden.map((a) => a.title),
      'final grades are worked out with it',
    );
  const { row, document, students } = assembled;
  const sections = new Map((await sectionsOf(db, school, book)).map((s) => [s.id, s.title]));
  const results = computeBook(document).students;
  const asOf = new Intl.DateTimeFormat('en-GB', {
    timeZone: row.timeZone,
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).format(new Date(document.asOf));
  const text = finalGradesCsv({
    book: row.title,
    term: row.term,
    school: (await findSchool(db, school))!.title,
    asOf: asOf.replace(',', ''),
    rulesVersion: row.rulesVersion,
    decimals: document.rounding.decimals,
    shownLabel: document.shown ? (document.shown.label ?? '') : null,
    students: students.map((s, i) => ({
      number: s.number,
      family: s.family,
      given: s.given,
      section: s.section === null ? '' : (sections.get(s.section) ?? ''),
      result: results[i]!,
    })),
  });
  const slug =
    row.title
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'book';
  return { name: `final-grades-${slug}.csv`, text };
}
