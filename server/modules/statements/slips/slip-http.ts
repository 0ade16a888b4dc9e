import { PlannedReleaseRemoval, PlannedReleases, PlannedReleaseWrite } from '@contract/planned-releases';
import { Slip, SlipStates, SlipTrace, TellAgainWrite, ToldAgain } from '@contract/slips';
import { Done } from '@contract/wire';
import { snapshot, transaction } from '../../../kernel/database';
import type { FileStore } from '../../../kernel/files/file-store';
import { Refusal } from '../../../kernel/refusal';
import { sendDownload, sendMade } from '../../../http/download';
import { LONG_LIST, route, whoOf, type Call, type Context, type Route } from '../../../http/route';
import { findSchool } from '../../accounts';
import { studentsOf } from '../../books';
import { callOffRelease, plannedReleases, planRelease } from '../release/planned-releases';
import { slipStates } from './slip-states';
import { ownSlip, slipFile, slipOf, traceSlip } from './slip';
import { studentBook } from '../student-book';
import { tellAgain } from './tell-again';
import { insertSlipTrace, type SlipPlace } from '../sql/slip-traces';

const OWN = '/my/books/{book}/slips/{assessment}';
const AS_STUDENT = '/books/{book}/as-student/{enrolment}/slips/{assessment}';

type Asked = Pick<Call<unknown>, 'pool' | 'school' | 'person' | 'params'>;

const own = ({ pool, school, person, params }: Asked): Promise<SlipPlace> =>
  ownSlip(pool, { school, person: person.id, book: params['book']!, assessment: params['assessment']! });

async function asStudent({ pool, school, params }: Asked): Promise<SlipPlace> {
  const [book, enrolment, assessment] = [params['book']!, params['enrolment']!, params['assessment']!];
  if (!(await studentsOf(pool, school, book)).some((s) => s.id === enrolment))
    throw new Refusal('not-found', 'There is no such student in this book.');
  return { school, book, enrolment, assessment };
}

/** The slip as a PDF, from what its student reads and nothing else. */
async function sendPdf(call: Asked & Pick<Context<unknown>, 'response'>, place: SlipPlace): Promise<void> {
  const { school, book, assessment, enrolment } = place;
  const of = await snapshot(call.pool, async (db) => {
    const student = (await studentsOf(db, school, book, true)).find((s) => s.id === enrolment)!;
    const slip = await slipOf(db, place);
    const read = await studentBook(db, school, student.person, book);
    const work = read.work.find((w) => w.id === assessment);
    if (!work || slip.releasedAt === null) throw new Refusal('not-found', 'Nothing of this came back.');
    return { school: (await findSchool(db, school))!.title, book: read, work, slip, student };
  });
  const { family, given } = of.student;
  // What draws it is large, and few starts need it.
  const { slipPdf } = await import('./pdf/slip-pdf');
  sendMade(
    call,
    `${of.work.title} ${[family, given].filter(Boolean).join(' ')}.pdf`,
    'application/pdf',
    await slipPdf(of),
  );
}

/** Releases that are done by themselves at a moment. */
const plannedRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/planned-releases',
    permission: 'book-read',
    names: 'named',
    summary: 'Releases that are planned for a moment, and those that could not be done of late.',
    answer: PlannedReleases,
    handler: ({ pool, school, params }) => plannedReleases(pool, school, params['book']!),
  }),
  route({
    method: 'post',
    path: '/books/{book}/planned-releases',
    permission: 'book-manage',
    names: 'named',
    summary: 'Plan a release for a moment.',
    body: PlannedReleaseWrite,
    maxBytes: LONG_LIST,
    answer: PlannedReleases,
    handler: (c) => planRelease(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'delete',
    path: '/books/{book}/planned-releases/{planned}',
    permission: 'book-manage',
    names: 'named',
    summary: 'Call off a release that is planned.',
    body: PlannedReleaseRemoval,
    answer: PlannedReleases,
    handler: (c) => callOffRelease(c.pool, whoOf(c), c.body.operation, c.params['planned']!),
  }),
];

/** What comes back beside a score: read by its student, looked at by staff, and what became of it. */
export const slipRoutes = (files: FileStore): Route[] => [
  ...plannedRoutes,
  route({
    method: 'get',
    path: OWN,
    permission: 'student',
    summary:
      'What came back to the student who asks beside the score: rubric, feedback, marks on the work, recordings.',
    answer: Slip,
    async handler(c) {
      const place = await own(c);
      return snapshot(c.pool, (db) => slipOf(db, place));
    },
  }),
  route({
    method: 'get',
    path: `${OWN}/files/{file}`,
    permission: 'student',
    summary: 'A recording or a file that came back to the student who asks, while it is released.',
    answer: 'application/octet-stream',
    async stream(c) {
      const place = await own(c);
      const file = await slipFile(c.pool, place, c.params['file']!);
      // To hear a recording is to play it, which its page tells.
      if (file.purpose === 'given') await insertSlipTrace(c.pool, place, { kind: 'fetched', file: file.id });
      await sendDownload(c, files, file);
    },
  }),
  route({
    method: 'get',
    path: `${OWN}/pdf`,
    permission: 'student',
    summary: 'What came back to the student who asks, as a tagged PDF.',
    answer: 'application/octet-stream',
    stream: async (c) => sendPdf(c, await own(c)),
  }),
  route({
    method: 'post',
    path: `${OWN}/traces`,
    permission: 'student',
    summary: 'That the student who asks opened it, or played a recording; the first time is kept.',
    body: SlipTrace,
    answer: Done,
    async handler(c) {
      const place = await own(c);
      await transaction(c.pool, (db) => traceSlip(db, place, c.body));
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: AS_STUDENT,
    permission: 'book-read',
    names: 'shown',
    summary: 'The slip of one student as they read it.',
    answer: Slip,
    async handler(c) {
      const place = await asStudent(c);
      return snapshot(c.pool, (db) => slipOf(db, place));
    },
  }),
  route({
    method: 'get',
    path: `${AS_STUDENT}/pdf`,
    permission: 'book-read',
    names: 'shown',
    summary: 'The same of one student, as they get it.',
    answer: 'application/octet-stream',
    stream: async (c) => sendPdf(c, await asStudent(c)),
  }),
  route({
    method: 'get',
    path: `${AS_STUDENT}/files/{file}`,
    permission: 'book-read',
    names: 'shown',
    summary: 'A recording or a file of that slip.',
    answer: 'application/octet-stream',
    stream: async (c) => sendDownload(c, files, await slipFile(c.pool, await asStudent(c), c.params['file']!)),
  }),
  route({
    method: 'post',
    path: '/books/{book}/assessments/{assessment}/tell-again',
    permission: 'book-manage',
    names: 'shown',
    summary: 'Tell those once more to whom something came back that they have not opened.',
    body: TellAgainWrite,
    maxBytes: LONG_LIST,
    answer: ToldAgain,
    handler: (c) => tellAgain(c.pool, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/assessments/{assessment}/slips',
    permission: 'book-read',
    names: 'shown',
    summary: 'Where everybody’s slip stands: what they see, what looks unfinished, who was told and opened it.',
    answer: SlipStates,
    handler: ({ pool, school, params, person }) =>
      snapshot(pool, (db) => slipStates(db, { school, book: params['book']!, assessment: params['assessment']! }, person.id)), // prettier-ignore
  }),
];
