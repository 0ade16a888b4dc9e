import { counted } from '../words/count';
import { csvText } from './csv';

export interface ScoresFile {
  book: string;
  term: string;
  /** "24 Nov 2026 12:00", in the book's time zone. */
  asOf: string;
  asMarked: boolean;
  /** Assessments in which names are hidden, in words: percent and letter leave them out. '' none. */
  leftOut: string;
  /** What is written behind the figure on the school's own scale; null: the book has no such scale. */
  shownLabel: string | null;
  /** How many students the book has, of whom those below are listed. */
  inAll: number;
  /** Assessments, and after each those of its criteria that are shown: "Soil pit (of 20)". */
  columns: { title: string; isCriterion: boolean }[];
  /** `cells` beside `columns`: figures with a point, states as words. */
  students: {
    number: string;
    family: string;
    given: string;
    section: string;
    cells: string[];
    percent: string | null;
    letter: string | null;
    /** On the school's own scale. */
    shown: string | null;
  }[];
}

/** The scores that a ledger shows as CSV. The first line says what the file holds; no cell is a formula anywhere. */
export function scoresCsv({ columns, students, ...file }: ScoresFile): string {
  const count = columns.filter((c) => !c.isCriterion).length;
  const says =
    `Scores of ${file.book}, ${file.term}: ${counted(count, 'assessment')}, ` +
    `${students.length === file.inAll ? `all ${counted(file.inAll, 'student')}` : `${students.length} of ${counted(file.inAll, 'student')}`}, ` +
    `${file.asMarked ? 'as marked, before lateness and caps' : 'what counts, after lateness and caps'}, as of ${file.asOf}. States are words.${file.leftOut === '' ? '' : ` Percent and letter are without ${file.leftOut}, in which names are hidden.`}`;
  // One assessment alone has no standing beside it.
  const whole = count !== 1;
  const isShown = whole && file.shownLabel !== null;
  return csvText([
    [says],
    [
      ...['Student number', 'Family name', 'Given name', 'Section'],
      ...columns.map((c) => c.title),
      ...(whole ? ['Percent', 'Letter'] : []),
      ...(isShown ? [`Shown ${file.shownLabel}`.trim()] : []),
    ],
    ...students.map((s) => [
      ...[s.number, s.family, s.given, s.section],
      ...s.cells,
      ...(whole ? [s.percent ?? '', s.letter ?? ''] : []),
      ...(isShown ? [s.shown ?? ''] : []),
    ]),
  ]);
}
