import { canonical } from '@core/book/canonical';
import type pg from 'pg';
import * as store from './sql';
import { Refusal } from '../../kernel/refusal';
import { type Author, commitBook, enrolledAmong } from '../books';
import type { StudentGroup, StudentGroupWrite } from '@contract/groups';

const text = (g: StudentGroup): string => canonical({ id: g.id, title: g.title, members: [...g.members].sort() });

/** Makes or changes a group of students in a book; null takes it away. */
export function writeStudentGroup(
  pool: pg.Pool,
  who: Author,
  id: string,
  write: StudentGroupWrite | { operation: string; version: number; title: null },
): Promise<StudentGroup[]> {
  return commitBook(pool, who, write.operation, async (db) => {
    const all = await store.groupsOfStudents(db, who.school, who.book);
    const was = all.find((g) => g.id === id);
    if ((was?.version ?? 0) !== write.version)
      throw new Refusal('stale', 'Somebody else changed this group after you saw it. Look at theirs first.', {
        now: was,
      });
    let is: StudentGroup | null = null;
    if (write.title === null) {
      if (!was) throw new Refusal('not-found', 'There is no such group in this book.');
      await store.deleteGroup(db, who.school, who.book, id);
    } else {
      const title = write.title.trim();
      if (all.some((g) => g.id !== id && g.title.toLowerCase() === title.toLowerCase()))
        throw new Refusal('already-there', `There is a group “${title}” in this book already.`);
      const members = [...new Set(write.members)];
      const here = await enrolledAmong(db, who.school, who.book, members);
      const strangers = members.filter((m) => !here.has(m)).length;
      if (strangers > 0)
        throw new Refusal('bad-request', `${strangers} of these students are not in this book. Nothing was changed.`);
      is = { id, title, version: write.version + 1, members };
      await store.writeGroup(db, who.school, who.book, is);
    }
    return {
      lines: [
        {
          kind: 'group',
          assessment: null,
          enrolment: null,
          was: was ? text(was) : null,
          becomes: is ? text(is) : null,
        },
      ],
      answer: () => store.groupsOfStudents(db, who.school, who.book),
    };
  });
}
