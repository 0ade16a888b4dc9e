import type { PlacedItem } from '@core/book/assemble';
import type { Item } from '@core/book/document';
import type { WorkSettings } from '@contract/work/submissions';
import { numberOrNull, type Db } from '../../../kernel/database';

export interface AssessmentRow {
  id: string;
  title: string;
  category: string;
  points: number;
  due: string | null;
  closes: string | null;
  takesWork: boolean;
  /** How it is handed in. */
  work: WorkSettings;
  shown: boolean;
  more: Partial<Item>;
  version: number;
  archived: boolean;
}

type Raw = Omit<AssessmentRow, 'points' | 'more' | 'work'> & { points: string; more: string; work: string };
const ASSESSMENT = `select id, title, category, points, due, closes, takes_work as "takesWork", shown, more, work, version,
    archived_at is not null as archived from assessment`;
const toAssessment = (r: Raw): AssessmentRow => ({
  ...r,
  points: numberOrNull(r.points)!,
  more: JSON.parse(r.more) as Partial<Item>,
  work: JSON.parse(r.work) as WorkSettings,
});

/** The assessments of a book in book order; those put away too where `archived`. */
export async function assessmentsOf(db: Db, school: string, book: string, archived = false): Promise<AssessmentRow[]> {
  const { rows } = await db.query<Raw>(
    `${ASSESSMENT} where school = $1 and book = $2 and ($3 or archived_at is null) order by position, id`,
    [school, book, archived],
  );
  return rows.map(toAssessment);
}

/** Those of these assessments that the book has. */
export async function assessmentsNamed(db: Db, school: string, book: string, ids: string[]): Promise<AssessmentRow[]> {
  const { rows } = await db.query<Raw>(
    `${ASSESSMENT} where school = $1 and book = $2 and id = any($3) and archived_at is null`,
    [school, book, ids],
  );
  return rows.map(toAssessment);
}

export function toPlacedItem(a: AssessmentRow): PlacedItem {
  const item: Item = { id: a.id, type: 'item', points: a.points, ...a.more };
  if (a.due !== null) item.due = a.due;
  if (a.closes !== null) item.closes = a.closes;
  return { category: a.category, item };
}

/** Which assessments of a book are marked by a rubric now. */
export async function assessmentsWithRubric(db: Db, school: string, book: string): Promise<Set<string>> {
  const { rows } = await db.query<{ assessment: string }>(
    `select assessment from (select distinct on (assessment) assessment, body from rubric
       where school = $1 and book = $2 order by assessment, version desc) last where body is not null`,
    [school, book],
  );
  return new Set(rows.map((r) => r.assessment));
}

/** The named marks that students have, or see as released, by assessment. */
export async function marksUsed(
  db: Db,
  school: string,
  book: string,
): Promise<{ assessment: string; mark: string; people: number }[]> {
  const { rows } = await db.query<{ assessment: string; mark: string; people: number }>(
    `select assessment, mark, count(distinct enrolment)::int as people from (
       select assessment, enrolment, mark from attempt where school = $1 and book = $2 and mark is not null
       union all select r.assessment, r.enrolment, a ->> 'mark' from released_entry r
         cross join lateral jsonb_array_elements(r.entry::jsonb -> 'attempts') a
       where r.school = $1 and r.book = $2 and r.withdrawn_at is null and r.entry like '%"mark"%' and a ? 'mark') x
     group by assessment, mark`,
    [school, book],
  );
  return rows;
}
