import { MessageWrite, OwnThreads, SetAsideWrite, Thread, ThreadList } from '@contract/work/threads';
import { route, whoOf, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { threadsBy, threadsOf } from './sql';
import { answer, ask, draftAnswer, setAside, staffThread, studentThread } from './threads';

const studentOf = ({ school, person, params }: Pick<Call<unknown>, 'school' | 'person' | 'params'>) => ({
  school,
  person: person.id,
  book: params['book']!,
  assessment: params['assessment']!,
});
const placeOf = ({ params }: Pick<Call<unknown>, 'params'>) => ({
  assessment: params['assessment']!,
  enrolment: params['enrolment']!,
});

/** A thread as it is told here: where names are hidden, the student's is. */
async function told({ names }: Pick<Call<unknown>, 'names'>, asked: Promise<Thread>): Promise<Thread> {
  const thread = await asked;
  if (!names.veil) return thread;
  return { ...thread, messages: thread.messages.map((m) => (m.kind === 'question' ? { ...m, by: 'the student' } : m)) };
}

const OWN = '/my/books/{book}/assessments/{assessment}/thread';
const STAFF = '/books/{book}/assessments/{assessment}/threads/{enrolment}';

export const threadRoutes: Route[] = [
  route({
    method: 'get',
    path: '/my/threads',
    permission: 'student',
    summary: 'What the student who asks has asked, by assessment, and whether it is answered.',
    answer: OwnThreads,
    handler: ({ pool, school, person }) => threadsBy(pool, school, person.id),
  }),
  route({
    method: 'get',
    path: OWN,
    permission: 'student',
    summary: 'What the student who asks has asked about one assessment, and the answers.',
    answer: Thread,
    handler: (c) => snapshot(c.pool, (db) => studentThread(db, studentOf(c))),
  }),
  route({
    method: 'post',
    path: OWN,
    permission: 'student',
    summary: 'Ask: the teachers of the book are told.',
    body: MessageWrite,
    answer: Thread,
    handler: (c) => ask(c.pool, whoOf(c), studentOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/assessments/{assessment}/threads',
    permission: 'book-read',
    names: 'work',
    summary: 'Who has asked about an assessment, and whose question waits for an answer.',
    answer: ThreadList,
    handler: ({ pool, school, params }) => threadsOf(pool, school, params['book']!, params['assessment']!),
  }),
  route({
    method: 'get',
    path: STAFF,
    permission: 'book-read',
    names: 'work',
    summary: 'What one student has asked about an assessment, and the answers.',
    answer: Thread,
    handler: (c) =>
      told(
        c,
        snapshot(c.pool, (db) =>
          staffThread(db, { school: c.school, book: c.params['book']!, ...placeOf(c) }, c.person.id),
        ),
      ),
  }),
  route({
    method: 'post',
    path: STAFF,
    permission: 'book-manage',
    names: 'work',
    summary: 'Answer: the student is told.',
    body: MessageWrite,
    answer: Thread,
    handler: (c) => told(c, answer(c.pool, whoOf(c), placeOf(c), c.body)),
  }),
  route({
    method: 'post',
    path: `${STAFF}/draft`,
    permission: 'book-scores',
    names: 'work',
    summary: 'Draft an answer for the teachers of the book: the student reads nothing of it.',
    body: MessageWrite,
    answer: Thread,
    handler: (c) => told(c, draftAnswer(c.pool, whoOf(c), placeOf(c), c.body)),
  }),
  route({
    method: 'post',
    path: `${STAFF}/set-aside`,
    permission: 'book-manage',
    names: 'work',
    summary: 'The question needs no answer: it waits no longer.',
    body: SetAsideWrite,
    answer: Thread,
    handler: (c) => told(c, setAside(c.pool, whoOf(c), placeOf(c), c.body)),
  }),
];
