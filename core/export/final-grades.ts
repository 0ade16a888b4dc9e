import type { StudentResult } from '../book/document';
import { csvText } from './csv';

export interface FinalGradesFile {
  book: string;
  term: string;
  school: string;
  /** "24 Nov 2026 12:00", in the book's time zone. */
  asOf: string;
  rulesVersion: number;
  decimals: number;
  /** What is written behind the figure on another scale; null: the book has no such scale. */
  shownLabel: string | null;
  students: { number: string; family: string; given: string; section: string; result: StudentResult }[];
}

/** The final grades of a book as CSV. The first line says what the file holds. */
export function finalGradesCsv(file: FinalGradesFile): string {
  const graded = file.students.filter((s) => s.result.percent !== null).length;
  const says =
    `Final grades of ${file.book}, ${file.term}, ${file.school}: percentage and letter of all ${file.students.length} students, ` +
    `${graded} with a grade, as of ${file.asOf}, by rules version ${file.rulesVersion}, ${file.decimals} decimals. Not signed.`;
  return csvText([
    [says],
    [
      ...['Student number', 'Family name', 'Given name', 'Section', 'Percent', 'Letter'],
      ...(file.shownLabel === null ? [] : [`Shown ${file.shownLabel}`.trim()]),
    ],
    ...file.students.map((s) => [
      s.number,
      s.family,
      s.given,
      s.section,
      s.result.percent ?? '',
      s.result.letter ?? '',
      ...(file.shownLabel === null ? [] : [s.result.shown ?? '']),
    ]),
  ]);
}
