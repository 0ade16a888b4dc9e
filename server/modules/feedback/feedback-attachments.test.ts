import { randomBytes, randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FeedbackAttachment, FeedbackAttachments, FeedbackPurpose } from '@contract/work/feedback';
import type { LiveEvent } from '@contract/presence';
import { allRoutes } from '../../routes';
import { journalKinds } from '../../journal-kinds';
import { HandingIn } from '../../testing/hand-in';
import { misformattedLines } from '../../testing/journal-formats';
import { listen, operation, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { Live } from '../presence';
import { filesJob } from '../submissions';
import { restFeedback } from './feedback-rests';

let school: TestSchool;
let handing: HandingIn;
let id: string;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
  id = await handing.assessment();
});
afterAll(() => school.close());

const path = (enrolment = school.adaId, work = 'hand-1', assessment = id): string =>
  `/books/fens/feedback-attachments/${assessment}/${enrolment}/${work}`;
const list = (who: Person = school.teacher, at = path()): Promise<FeedbackAttachments> => who.must('GET', at);
const one = (all: FeedbackAttachments, file: string): FeedbackAttachment => all.find((f) => f.id === file)!;

interface Begun {
  purpose?: FeedbackPurpose;
  name?: string;
  bytes?: number;
  everybody?: boolean;
  who?: Person;
  at?: string;
}

async function begin({
  purpose = 'given',
  name = 'key.pdf',
  bytes = 3_000,
  everybody = false,
  who = school.teacher,
  at = path(),
}: Begun) {
  // prettier-ignore
  const file = randomUUID();
  const body = { id: file, purpose, name, bytes, everybody };
  return { body, file: one(await who.must<FeedbackAttachments>('POST', at, body), file) };
}

/** Begins one and sends all of it. */
async function put(bytes: Buffer, of: Begun = {}): Promise<FeedbackAttachment> {
  const { file } = await begin({ ...of, bytes: bytes.length });
  expect((await handing.patch(of.who ?? school.teacher, file.upload, 0, bytes)).status).toBe(204);
  return one(await list(school.teacher, of.at), file.id);
}

describe('files beside a piece of work', () => {
  it('are given back to one or to everybody, read as they are, taken off and put back', async () => {
    const bytes = randomBytes(20_000);
    const own = await put(bytes, { name: 'Lösung – 湿地.pdf' });
    const all = await put(randomBytes(500), { name: 'answers.txt', everybody: true });
    expect(own).toMatchObject({ everybody: false, bytes: 20_000, mine: true, removed: false });
    expect(own.sha256).not.toBeNull();
    const ben = await list(school.marker, path(school.benId));
    expect(ben.map((f) => [f.name, f.everybody, f.mine])).toEqual([['answers.txt', true, false]]);
    expect((await school.reviewer.bytes(`${path()}/${own.id}`)).equals(bytes)).toBe(true);
    expect((await school.teacher.send('GET', `${path(school.benId)}/${own.id}`)).status).toBe(404);
    const off = { version: 1, removed: true };
    await school.marker.must('PUT', `${path()}/${own.id}`, off);
    // The answer was lost; and somebody who had not seen it.
    await school.marker.must('PUT', `${path()}/${own.id}`, off);
    expect((await school.teacher.send('PUT', `${path()}/${own.id}`, { version: 1, removed: false })).status).toBe(409);
    expect(one(await list(), own.id)).toMatchObject({ removed: true, version: 2 });
    await school.teacher.must('PUT', `${path()}/${own.id}`, { version: 2, removed: false });
    expect(one(await list(), own.id)).toMatchObject({ removed: false, version: 3 });
    await school.teacher.must('PUT', `${path(school.benId)}/${all.id}`, off);
    expect(one(await list(), all.id).removed).toBe(true);
  });

  it('are begun once however often it is asked, within their bounds', async () => {
    const { body, file } = await begin({});
    expect(one(await school.teacher.must('POST', path(), body), file.id).upload).toBe(file.upload);
    expect((await school.teacher.send('POST', path(school.benId), body)).status).toBe(409);
    for (const wrong of [
      { bytes: 1_000_000_001 },
      { bytes: 0 },
      { name: '  ' },
      { name: 'ü'.repeat(200) },
      { purpose: 'voice', bytes: 100_000_001 },
      { purpose: 'staff', everybody: true },
    ])
      expect((await school.teacher.send('POST', path(), { ...body, id: randomUUID(), ...wrong })).status).toBe(400);
    const many = path(school.benId, 'hand-2');
    for (let n = (await list(school.teacher, many)).filter((f) => !f.removed).length; n < 30; n++) await begin({ at: many }); // prettier-ignore
    expect((await school.teacher.send('POST', many, { ...body, id: randomUUID() })).status).toBe(400);
  });

  it('are told to whoever has the work open, and leave a line in the journal once they rest', async () => {
    const assessment = await handing.assessment();
    const at = path(school.adaId, 'hand-1', assessment);
    const told = await listen<LiveEvent>(school.marker, '/events?book=fens');
    const isTold = (enrolment: string) =>
      told.until((e) => e.kind === 'feedback' && e.assessment === assessment && e.enrolment === enrolment);
    await told.until((e) => e.kind === 'hello');
    const own = await put(randomBytes(900), { at });
    await isTold(school.adaId);
    await put(randomBytes(900), { at, everybody: true });
    await isTold('*');
    told.close();
    const { rows } = await school.pool.query<{ school: string; person: string }>(
      'select school, person from feedback_attachment where id = $1',
      [own.id],
    );
    const of = { ...rows[0]!, book: 'fens' };
    expect(await restFeedback(school.pool, of, 0)).toBeGreaterThan(1);
    expect(await restFeedback(school.pool, of, 0)).toBe(0);
    await school.teacher.must('PUT', `${at}/${own.id}`, { version: 1, removed: true });
    expect(await restFeedback(school.pool, of, 0)).toBe(1);
    const { rows: lines } = await school.pool.query<{ everybody: boolean; becomes: string }>(
      `select enrolment is null as everybody, becomes from journal where kind = 'feedback-attachment' and assessment = $1 order by seq`,
      [assessment],
    );
    expect(lines.map((l) => [l.everybody, (JSON.parse(l.becomes) as { version: number }).version]).toSorted()).toEqual([
      [false, 1],
      [false, 2],
      [true, 1],
    ]);
    expect(JSON.parse(lines.at(-1)!.becomes)).toEqual({ file: own.id, purpose: 'given', version: 2 });
    expect(await misformattedLines(school.pool)).toEqual([]);
  });
});

describe('a recording', () => {
  const end = (file: string, bytes: number, who = school.teacher) =>
    who.send<FeedbackAttachments>('POST', `${path()}/${file}/end`, { bytes, seconds: 4.2, waveform: [0, 50, 100] });

  it('comes in pieces while it is made, and has what had come when it ended', async () => {
    const { file } = await begin({ purpose: 'voice', name: 'voice.webm', bytes: 100_000_000 });
    const bytes = randomBytes(30_000);
    expect((await handing.patch(school.teacher, file.upload, 0, bytes.subarray(0, 10_000))).status).toBe(204);
    expect((await handing.patch(school.teacher, file.upload, 10_000, bytes.subarray(10_000))).status).toBe(204);
    expect((await end(file.id, 30_001)).status).toBe(409);
    expect((await end(file.id, 30_000, school.marker)).status).toBe(403);
    const ended = one((await end(file.id, 30_000)).body, file.id);
    expect(ended).toMatchObject({ bytes: 30_000, seconds: 4.2, waveform: [0, 50, 100] });
    expect(one((await end(file.id, 30_000)).body, file.id).sha256).toBe(ended.sha256);
    expect((await school.teacher.bytes(`${path()}/${file.id}`)).equals(bytes)).toBe(true);
    // Nothing is added to what has ended.
    expect((await handing.patch(school.teacher, file.upload, 30_000, Buffer.from('more'))).status).not.toBe(204);
  });

  it('that broke off waits for its maker, and goes after a week where it is not wanted', async () => {
    const half = await begin({ purpose: 'voice', bytes: 100_000_000 });
    const empty = await begin({ purpose: 'voice', bytes: 100_000_000 });
    const thrown = await begin({ purpose: 'voice', bytes: 100_000_000 });
    for (const { file } of [half, thrown]) await handing.patch(school.teacher, file.upload, 0, randomBytes(500));
    expect((await end(empty.file.id, 0)).status).toBe(400);
    await school.teacher.must('PUT', `${path()}/${thrown.file.id}`, { version: 1, removed: true });
    await school.pool.query(`update upload set heard_at = heard_at - interval '8 days'`);
    await filesJob.run({ pool: school.pool } as never, { school: '' });
    const left = (await list()).map((f) => f.id);
    expect([half, empty, thrown].map((r) => left.includes(r.file.id))).toEqual([true, false, false]);
    const kept = await school.teacher.must<FeedbackAttachments>('POST', `${path()}/${half.file.id}/end`, { bytes: 500, seconds: null, waveform: [] }); // prettier-ignore
    expect(one(kept, half.file.id)).toMatchObject({ bytes: 500, seconds: null });
    expect((await school.teacher.bytes(`${path()}/${half.file.id}`)).length).toBe(500);
  });
});

it('nothing that is only for staff, or a draft, is in any answer to a student', async () => {
  const assessment = await handing.assessment();
  const submission = await handing.handIn(assessment);
  const at = path(school.adaId, submission.id, assessment);
  const secret = `secret-${randomUUID()}`;
  const made: FeedbackAttachment[] = [];
  for (const purpose of ['staff', 'given', 'camera'] as const) {
    const bytes = Buffer.from(`${secret} ${purpose}`);
    const { file } = await begin({ purpose, name: `${secret}.txt`, bytes: bytes.length, at });
    await handing.patch(school.teacher, file.upload, 0, bytes);
    made.push(one(await list(school.teacher, at), file.id));
  }
  expect(made.every((f) => f.sha256 !== null)).toBe(true);
  await school.teacher.must('PUT', `/books/fens/staff-notes/${school.adaId}/${assessment}`, {
    ...{ operation: operation(), version: 0, note: secret },
  });
  const live = new Live(journalKinds, null as never, '', () => undefined);
  const routes = allRoutes(school.pool, live, () => undefined).filter(
    (r) => r.method === 'get' && r.path !== '/events',
  );
  const found: string[] = [];
  for (const file of made) {
    const params: Record<string, string> = {
      ...{ book: 'fens', assessment, enrolment: school.adaId, submission: submission.id, work: submission.id },
      ...{ file: file.id, upload: file.upload, person: school.adaId },
    };
    for (const route of routes) {
      const asked = route.path.replace(/\{(\w+)\}/g, (_all, name: string) => params[name] ?? file.id);
      const { text, status } = await school.ada.send('GET', asked);
      if (text.includes(secret) || text.includes(file.sha256!) || text.includes(file.id)) found.push(`${asked} ${status}`); // prettier-ignore
    }
    const head = await fetch(`${school.address}/api/v1/uploads/${file.upload}`, { method: 'HEAD', headers: { cookie: school.ada.cookie, 'tus-resumable': '1.0.0' } }); // prettier-ignore
    expect(head.status).toBe(404);
  }
  expect(routes.length).toBeGreaterThan(50);
  expect(found).toEqual([]);
});
