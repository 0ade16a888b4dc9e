import { writeStaffNote } from './staff-notes';
import { findBook } from '../books';
import { staffNotesOf } from './sql';
import { changedSince, visit } from '../presence';
import { route, whoOf, type Route } from '../../http/route';
import { groupsOfStudents, viewsOf } from '../groups';
import { BookAnnotations, StaffNote, StaffNoteWrite } from '@contract/annotations';

export const annotationsRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/annotations',
    permission: 'book-read',
    summary:
      'What stands beside the scores: notes, flags, groups, one’s own views, and what others changed since one’s last visit.',
    answer: BookAnnotations,
    async handler({ pool, school, person, params }) {
      const book = params['book']!;
      const { seq } = (await findBook(pool, school, book))!;
      const last = (await visit(pool, school, book, person.id, seq))!;
      const [remarks, all, views, changed] = await Promise.all([
        staffNotesOf(pool, school, book),
        groupsOfStudents(pool, school, book),
        viewsOf(pool, school, book, person.id),
        changedSince(pool, school, book, person.id, last.since),
      ]);
      return { notes: remarks, groups: all, views, since: last.since, sinceAt: last.at, changed };
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/staff-notes/{enrolment}/{place}',
    permission: 'book-scores',
    summary: 'Write a staff note or a flag beside a cell, or beside a student (place *).',
    body: StaffNoteWrite,
    answer: StaffNote,
    handler: (c) => writeStaffNote(c.pool, whoOf(c), c.params['enrolment']!, c.params['place']!, c.body),
  }),
];
