import type { Office } from '@contract/overview';
import type { Db } from '../../kernel/database';
import { personName } from '../accounts';
import { booksOfSchool } from '../books';
import { lastChanges, staffNames } from './sql';
import { summariesOf } from './summaries';

/** All books of the school and how far each is. */
export async function officeOf(db: Db, school: string): Promise<Office> {
  const rows = await booksOfSchool(db, school);
  const ids = rows.map((b) => b.id);
  const staff = await staffNames(db, school, ids);
  const changes = await lastChanges(db, school, ids);
  return {
    term: rows[0]?.term ?? null,
    books: (await summariesOf(db, school, rows)).map(({ row, summary, faulty }) => ({
      id: row.id,
      title: row.title,
      teachers: (staff.get(row.id) ?? []).map((s) => personName(s)),
      students: summary.students,
      assessments: summary.assessments.length,
      marked: summary.marked,
      faulty,
      toMark: summary.ticks.toMark,
      drafts: summary.ticks.draft,
      lastChange: changes.get(row.id) ?? null,
      ticks: summary.ticks,
    })),
  };
}
