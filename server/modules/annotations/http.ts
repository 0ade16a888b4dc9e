import { WHOLE_STUDENT, writeStaffNote } from './staff-notes';
import { findBook } from '../books';
import { staffNotesOf } from './sql';
import { changedSince, visit } from '../presence';
import { route, whoOf, type Route } from '../../http/route';
import { groupsOfStudents, viewsOf } from '../groups';
import { BookAnnotations, StaffNote, StaffNoteWrite } from '@contract/annotations';

/** The assessment that a note is about; null: the whole student. */
const placeOf = (place: string): string | null => (place === WHOLE_STUDENT ? null : place);

export const annotationsRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/annotations',
    permission: 'book-read',
    names: 'aware',
    summary:
      'What stands beside the scores: notes, flags, groups, one’s own views, and what others changed since one’s last visit.',
    answer: BookAnnotations,
    async handler({ pool, school, person, params, names }) {
      const book = params['book']!;
      const { seq } = (await findBook(pool, school, book))!;
      const last = (await visit(pool, school, book, person.id, seq))!;
      const [remarks, all, views, changed] = await Promise.all([
        staffNotesOf(pool, school, book),
        groupsOfStudents(pool, school, book),
        viewsOf(pool, school, book, person.id),
        changedSince(pool, school, book, person.id, last.since),
      ]);
      return {
        notes: remarks.filter((r) => names.opens(placeOf(r.place))),
        // Who belongs together is no affair of one assessment.
        groups: names.veil ? [] : all,
        views: names.veil ? [] : views,
        since: last.since,
        sinceAt: last.at,
        changed: changed.filter((c) => names.opens(c.assessment)),
      };
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/staff-notes/{enrolment}/{place}',
    permission: 'book-scores',
    names: 'aware',
    summary: 'Write a staff note or a flag beside a cell, or beside a student (place *).',
    body: StaffNoteWrite,
    answer: StaffNote,
    async handler(c) {
      c.names.require(placeOf(c.params['place']!));
      return writeStaffNote(c.pool, whoOf(c), c.params['enrolment']!, c.params['place']!, c.body);
    },
  }),
];
