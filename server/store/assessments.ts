import type { PlacedItem } from '@core/book/assemble';
import type { Item } from '@core/book/document';
import { numberOrNull, type Db } from './database';

export interface AssessmentRow {
  id: string;
  title: string;
  category: string;
  points: number;
  due: string | null;
  closes: string | null;
  takesWork: boolean;
  shown: boolean;
  more: Partial<Item>;
  version: number;
}

type Raw = Omit<AssessmentRow, 'points' | 'more'> & { points: string; more: string };
const ASSESSMENT =
  'select id, title, category, points, due, closes, takes_work as "takesWork", shown, more, version from assessment';
const toAssessment = (r: Raw): AssessmentRow => ({
  ...r,
  points: numberOrNull(r.points)!,
  more: JSON.parse(r.more) as Partial<Item>,
});

export async function assessmentsOf(db: Db, school: string, book: string): Promise<AssessmentRow[]> {
  const { rows } = await db.query<Raw>(`${ASSESSMENT} where school = $1 and book = $2 order by position, id`, [
    school,
    book,
  ]);
  return rows.map(toAssessment);
}

/** Those of these assessments that the book has. */
export async function assessmentsNamed(db: Db, school: string, book: string, ids: string[]): Promise<AssessmentRow[]> {
  const { rows } = await db.query<Raw>(`${ASSESSMENT} where school = $1 and book = $2 and id = any($3)`, [
    school,
    book,
    ids,
  ]);
  return rows.map(toAssessment);
}

export function toPlacedItem(a: AssessmentRow): PlacedItem {
  const item: Item = { id: a.id, type: 'item', points: a.points, ...a.more };
  if (a.due !== null) item.due = a.due;
  if (a.closes !== null) item.closes = a.closes;
  return { category: a.category, item };
}

export async function insertAssessment(
  db: Db,
  school: string,
  book: string,
  a: Omit<AssessmentRow, 'version'>,
): Promise<void> {
  await db.query(
    `insert into assessment (school, book, id, title, category, position, points, due, closes, takes_work, shown, more)
     select $1, $2, $3, $4, $5, coalesce(max(position), 0) + 1, $6, $7, $8, $9, $10, $11 from assessment where school = $1 and book = $2`,
    [school, book, a.id, a.title, a.category, a.points, a.due, a.closes, a.takesWork, a.shown, JSON.stringify(a.more)],
  );
}

