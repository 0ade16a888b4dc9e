import { PlaceWrite, LiveEvent, Beside, Remark, RemarkWrite, SavedView, SavedViewWrite } from '@contract/live';
import { StudentGroup, StudentGroupGone, StudentGroupWrite } from '@contract/live';
import { Done } from '@contract/people';
import { Type } from '@sinclair/typebox';
import type { Live } from '../../domain/live';
import { Refusal } from '../../domain/problems';
import { writeRemark } from '../../domain/remarks';
import { writeStudentGroup } from '../../domain/student-groups';
import { findBook } from '../../store/books';
import * as groups from '../../store/groups';
import { remarksOf } from '../../store/remarks';
import * as visits from '../../store/visits';
import { route, whoOf, type Route } from '../route';

/** Views that one person may keep of one book. */
const VIEWS = 60;

export const liveRoutes = (live: Live): Route[] => [
  route({
    method: 'get',
    path: '/books/{book}/events',
    permission: 'book-read',
    says: 'What others change from line `after` on, and who is here, as server-sent events.',
    answer: LiveEvent,
    async streams({ request, response, school, person, params, role }) {
      const resume = request.get('last-event-id') ?? String(request.query['after'] ?? '');
      const after = /^\d{1,9}$/.test(resume) ? Number(resume) : null;
      response.status(200).set({
        'Content-Type': 'text/event-stream; charset=utf-8',
        'Cache-Control': 'no-store',
        'X-Accel-Buffering': 'no',
      });
      response.flushHeaders();
      const send = (event: LiveEvent): void => {
        const id = 'seq' in event ? `id: ${event.seq}\n` : '';
        response.write(`${id}data: ${JSON.stringify(event)}\n\n`);
      };
      const who = { school, book: params['book']!, person: person.id, office: role === 'administrator' };
      let gone = false;
      request.on('close', () => (gone = true));
      const place = await live.enter(who, after, send, () => response.end());
      const sign = setInterval(() => response.write(': here\n\n'), 20_000);
      const leave = (): void => {
        clearInterval(sign);
        void place.leave();
      };
      if (gone) leave();
      else request.on('close', leave);
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/place',
    permission: 'book-read',
    says: 'Where one is in the book, for the others who have it open.',
    body: PlaceWrite,
    answer: Done,
    async does({ pool, school, person, params, body }) {
      const who = { connection: body.connection, school, book: params['book']!, person: person.id };
      if (!(await visits.moveTo(pool, who, body.enrolment, body.assessment)))
        throw new Refusal('not-found', 'This page is not connected any more.');
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/beside',
    permission: 'book-read',
    says: 'What stands beside the scores: notes, flags, groups, one’s own views, and what others changed since one’s last visit.',
    answer: Beside,
    async does({ pool, school, person, params }) {
      const book = params['book']!;
      const { seq } = (await findBook(pool, school, book))!;
      const visit = (await visits.visit(pool, school, book, person.id, seq))!;
      const [remarks, all, views, changed] = await Promise.all([
        remarksOf(pool, school, book),
        groups.groupsOfStudents(pool, school, book),
        groups.viewsOf(pool, school, book, person.id),
        visits.changedSince(pool, school, book, person.id, visit.since),
      ]);
      return { remarks, groups: all, views, since: visit.since, sinceAt: visit.at, changed };
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/remarks/{enrolment}/{place}',
    permission: 'book-scores',
    says: 'Write a staff note or a flag beside a cell, or beside a student (place *).',
    body: RemarkWrite,
    answer: Remark,
    does: (c) => writeRemark(c.pool, whoOf(c), c.params['enrolment']!, c.params['place']!, c.body),
  }),
  route({
    method: 'put',
    path: '/books/{book}/groups/{group}',
    permission: 'book-scores',
    says: 'Make or change a group of students in the book. Version 0 makes it.',
    body: StudentGroupWrite,
    answer: Type.Array(StudentGroup),
    does(c) {
      requireId(c.params['group']!);
      return writeStudentGroup(c.pool, whoOf(c), c.params['group']!, c.body);
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/groups/{group}',
    permission: 'book-scores',
    says: 'Take a group away. Its students stay.',
    body: StudentGroupGone,
    answer: Type.Array(StudentGroup),
    does: (c) => writeStudentGroup(c.pool, whoOf(c), c.params['group']!, { ...c.body, title: null }),
  }),
  route({
    method: 'put',
    path: '/books/{book}/views/{view}',
    permission: 'book-read',
    says: 'Keep a way of looking at the ledger, for oneself.',
    body: SavedViewWrite,
    answer: Type.Array(SavedView),
    async does({ pool, school, person, params, body }) {
      requireId(params['view']!);
      const book = params['book']!;
      const views = await groups.viewsOf(pool, school, book, person.id);
      if (views.length >= VIEWS && !views.some((v) => v.id === params['view']))
        throw new Refusal('bad-request', `There are ${VIEWS} views already. Take one away first.`);
      await groups.writeView(pool, school, book, person.id, { id: params['view']!, ...body });
      return groups.viewsOf(pool, school, book, person.id);
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/views/{view}',
    permission: 'book-read',
    says: 'Forget a way of looking.',
    answer: Type.Array(SavedView),
    async does({ pool, school, person, params }) {
      await groups.deleteView(pool, school, params['book']!, person.id, params['view']!);
      return groups.viewsOf(pool, school, params['book']!, person.id);
    },
  }),
];

function requireId(id: string): void {
  if (!/^[A-Za-z0-9._-]{1,64}$/.test(id))
    throw new Refusal('bad-request', `“${id.slice(0, 70)}” cannot be an id. Nothing was changed.`);
}
