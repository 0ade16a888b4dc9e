import { randomBytes, randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { BookAnnotations } from '@contract/annotations';
import type { FeedbackAttachments, FeedbackPurpose } from '@contract/work/feedback';
import type { Marking, RubricTrial } from '@contract/work/marking';
import type { OwnData } from '@contract/own-data';
import type { OwnDocument } from '@contract/statements';
import type { Submission } from '@contract/work/submissions';
import { HandingIn } from '../../../testing/hand-in';
import { NoteWriter } from '../../../testing/note-writer';
import { operation } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';

const RUBRIC = (form: number) => ({
  by: 'points',
  criteria: [
    {
      ...{ id: 'drawing', title: 'Profile drawing', stands: 'counts' },
      levels: [2, 4, 20].map((points, i) => ({ id: `l${i + 1}`, points, words: `form ${form}, worth ${points}` })),
    },
  ],
});

let school: TestSchool;
let handing: HandingIn;
let id: string;
let ada: Submission;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
  handing = new HandingIn(school);
  id = await handing.assessment();
  ada = await handing.handIn(id);
  const write = { operation: operation(), version: 0, rubric: RUBRIC(0) };
  await school.teacher.must('PUT', `/books/fens/assessments/${id}/rubric`, write);
});
afterAll(() => school.close());

const versionOf = async (assessment: string, enrolment = school.adaId): Promise<number> => {
  const sql = 'select version from entry where assessment = $1 and enrolment = $2';
  return (await school.pool.query<{ version: number }>(sql, [assessment, enrolment])).rows[0]?.version ?? 0;
};

async function score(assessment: string, change: object, enrolment = school.adaId): Promise<void> {
  await school.put(assessment, enrolment, await versionOf(assessment, enrolment), change as never);
}

async function file(purpose: FeedbackPurpose, n: number): Promise<void> {
  const at = `/books/fens/feedback-attachments/${id}/${school.adaId}/${ada.id}`;
  const bytes = randomBytes(50 + (n % 100));
  const body = {
    id: randomUUID(),
    purpose,
    name: `${purpose}.bin`,
    bytes: bytes.length,
    everybody: purpose === 'given' && n % 2 === 0,
  };
  const all = await school.teacher.must<FeedbackAttachments>('POST', at, body);
  const { upload } = all.find((f) => f.id === body.id)!;
  expect((await handing.patch(school.teacher, upload, 0, bytes)).status).toBe(204);
}

/** What staff do that no student is told of. */
const DOINGS = {
  async levels(n: number) {
    const at = `/books/fens/assessments/${id}/marking`;
    const marking = await school.teacher.must<Marking>('GET', at);
    const version = marking.drafts
      .find((d) => d.work === ada.id)
      ?.marks.find((m) => m.criterion === 'drawing')?.version;
    await school.teacher.must('PUT', `/books/fens/levels/${id}/${school.adaId}`, {
      ...{ operation: operation(), work: ada.id, rubric: marking.rubric.version, cell: await versionOf(id) },
      marks: [{ criterion: 'drawing', version: version ?? 0, mark: { points: [2, 4, 3][n % 3]! } }],
      sum: 'follow',
    });
  },
  async rubric(n: number) {
    const { rubric } = await school.teacher.must<Marking>('GET', `/books/fens/assessments/${id}/marking`);
    const at = `/books/fens/assessments/${id}/rubric`;
    const { trial } = await school.teacher.must<RubricTrial>('POST', `${at}/trial`, { rubric: RUBRIC(n) });
    const write = { operation: operation(), version: rubric.version, rubric: RUBRIC(n), trial };
    await school.teacher.must('PUT', at, write);
  },
  async note(n: number) {
    const writer = new NoteWriter(school.teacher, `/books/fens/end-notes/${id}/${school.adaId}/${ada.id}`);
    writer.type(`Words ${n}.`);
    await writer.send();
  },
  async mark(n: number) {
    const mark = {
      kind: 'note',
      ink: 'plum',
      surface: { on: 'whole', index: 0 },
      comment: `mark ${n}`,
      at: [0.5, 0.1],
    };
    const at = `/books/fens/submissions/${ada.id}/marks/${randomUUID()}`;
    await school.teacher.must('PUT', at, { version: 0, leaf: 'typed', mark });
  },
  given: (n: number) => file('given', n),
  recording: (n: number) => file('voice', n),
  staffFile: (n: number) => file('staff', n),
  async staffNote(n: number) {
    const { notes } = await school.teacher.must<BookAnnotations>('GET', '/books/fens/annotations');
    const version = notes.find((r) => r.enrolment === school.adaId && r.place === id)?.version ?? 0;
    await school.teacher.must('PUT', `/books/fens/staff-notes/${school.adaId}/${id}`, {
      ...{ operation: operation(), version, note: `staff ${n}`, secondLook: n % 2 === 0 },
    });
  },
  score: (n: number) => score('reed', { kind: 'score', points: n % 5 }),
  missing: () => score('test', { kind: 'state', state: 'missing' }),
  attempt: (n: number) => score('reed', { kind: 'attempt', made: { score: n % 5 } }),
  set: (n: number) => score(id, { kind: 'set', points: n % 20 }),
  others: (n: number) => score('moss', { kind: 'score', points: n % 20 }, school.benId),
};
type Doing = keyof typeof DOINGS;

/** Everything that a student can get, as bytes, but for what the clock moves. */
async function allBytes(): Promise<string> {
  const paths = ['/my/books', '/my/books/fens', '/my/books/fens/document', `/my/books/fens/slips/${id}`, '/my/data'];
  const more = ['/my/notices', '/my/due', '/my/threads', handing.at(id)];
  const answers = await Promise.all([...paths, ...more].map((p) => school.ada.send('GET', p)));
  return answers
    .map((a) => a.text)
    .join('\n')
    .replace(/"(asOf|madeAt|now)":"[^"]*"/g, '');
}

it('whatever staff do that they do not release changes not a byte of what a student gets', async () => {
  // Something is released, so that there is something that must not change.
  await DOINGS.score(3);
  await DOINGS.note(0);
  await DOINGS.levels(0);
  for (const assessment of ['reed', id])
    await school.teacher.must('POST', '/books/fens/release', {
      ...{ operation: operation(), assessment, enrolments: [school.adaId], moveRules: true },
    });
  const before = await allBytes();
  expect(before).toContain('Words 0.');
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.tuple(fc.constantFrom(...(Object.keys(DOINGS) as Doing[])), fc.nat(1_000)), {
        minLength: 1,
        maxLength: 5,
      }),
      async (doings) => {
        for (const [what, n] of doings) await DOINGS[what](n);
        expect(await allBytes()).toBe(before);
      },
    ),
    { numRuns: 12 },
  );
}, 60_000);

it('a student’s own data and document hold what is released to them, and nobody else’s', async () => {
  const data = await school.ada.must<OwnData>('GET', '/my/data');
  expect(data).toMatchObject({ format: 'last-tally own data', version: 1, person: { login: 'ada' } });
  const [book] = data.books;
  expect(book!.slips.map((s) => s.assessment).sort()).toEqual(['reed', id].sort());
  expect(book!.work.find((w) => w.id === id)!.before).toHaveLength(1);
  const { document, titles } = await school.ada.must<OwnDocument>('GET', '/my/books/fens/document');
  expect(document!.students.map((s) => s.id)).toEqual([school.adaId]);
  expect(new Set(document!.entries.map((e) => e.student))).toEqual(new Set([school.adaId]));
  expect(titles[id]).toBe('Work 1');
  // The same as staff see it who look as this student; no other student gets it.
  expect(await school.teacher.must('GET', `/books/fens/as-student/${school.adaId}/document`)).toEqual({ document: expect.objectContaining({ entries: document!.entries }), titles }); // prettier-ignore
  expect((await school.ben.must<OwnDocument>('GET', '/my/books/fens/document')).document).toBeNull();
  expect((await school.ben.send('GET', `/books/fens/as-student/${school.adaId}/document`)).status).toBeGreaterThanOrEqual(403); // prettier-ignore
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: false });
  expect(await school.ada.must('GET', '/my/books/fens/document')).toEqual({ document: null, titles: {} });
});
