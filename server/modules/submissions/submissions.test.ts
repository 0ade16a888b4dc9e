import { createHash, randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type {
  Arrivals,
  DueList,
  HandedIn,
  StudentAssessment,
  Submission,
  SubmissionHistory,
} from '@contract/work/submissions';
import { operation, type Person } from '../../testing/person';
import { misformattedLines } from '../../testing/journal-formats';
import { HandingIn } from '../../testing/hand-in';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
});
afterAll(() => school.close());

const PDF = Buffer.concat([Buffer.from('%PDF-1.7\n'), randomBytes(3_000_000)]);
/** A picture of one point. */
const PNG = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64'); // prettier-ignore
const HASH = createHash('sha256').update(PDF).digest('hex');

const assessment = (more: object = {}, work: object = {}): Promise<string> => handing.assessment(more, work);
const at = (id: string): string => handing.at(id);
const page = (id: string, who = school.ada): Promise<StudentAssessment> => handing.page(id, who);
const patch = (who: Person, upload: string, offset: number, bytes: Buffer, headers: Record<string, string> = {}) =>
  handing.patch(who, upload, offset, bytes, headers);
const offsetOf = (who: Person, upload: string): Promise<number> => handing.offsetOf(who, upload);
const addFile = (id: string, name: string, bytes: Buffer, who = school.ada): Promise<Submission> =>
  handing.addFile(id, name, bytes, who);
const handInOf = (s: Submission, more: object = {}) => handing.write(s, more);

describe('handing in', () => {
  it('takes files in pieces, a text and a link, and gives one receipt for all of it', async () => {
    const id = await assessment();
    const first = await school.ada.must<Submission>('POST', `${at(id)}/files`, {
      ...{ id: 'report', name: 'Bericht – Überblick 湿地.pdf', bytes: PDF.length },
    });
    const { upload } = first.files[0]!;
    // A line that drops twice: what came is kept, and it goes on from there.
    expect((await patch(school.ada, upload, 0, PDF.subarray(0, 1_500_000))).status).toBe(204);
    expect(await offsetOf(school.ada, upload)).toBe(1_500_000);
    expect((await patch(school.ada, upload, 0, PDF)).status).toBe(409);
    const half = (await page(id)).begun!;
    expect(half.files[0]).toMatchObject({ received: 1_500_000, sha256: null });
    const early = await school.ada.send('POST', `${at(id)}/hand-in`, handInOf(half));
    expect([early.status, early.body['detail']]).toEqual([
      400,
      '1 file is not all here yet: Bericht – Überblick 湿地.pdf. Nothing is handed in yet.',
    ]);
    expect((await patch(school.ada, upload, 1_500_000, PDF.subarray(1_500_000))).status).toBe(204);
    const typed = await school.ada.must<Submission>('PUT', `${at(id)}/work`, {
      ...{ version: half.version, typed: 'What I found.', link: 'https://example.org/map' },
    });
    expect(typed.files[0]).toMatchObject({ sha256: HASH, mediaType: 'application/pdf', odd: null });
    const write = handInOf(typed);
    const [one, two] = await Promise.all(
      [1, 2].map(() => school.ada.must<HandedIn>('POST', `${at(id)}/hand-in`, write)),
    );
    // A second click: the same receipt.
    expect(one).toEqual(two);
    expect(one!.submission).toMatchObject({ state: 'handed-in', attempt: 1, handedInAt: '2026-11-24T09:00:00.000Z' });
    expect(one!.submission.receipt).toMatch(/^LT-[0-9A-Z]{3}-[0-9A-Z]{3}$/);
    const { rows } = await school.pool.query<{ kind: string; becomes: string }>(
      `select kind, becomes from journal where book = 'fens' and assessment = $1 and enrolment is not null order by seq`,
      [id],
    );
    expect(rows.map((r) => r.kind)).toEqual(['cell', 'submission']);
    expect(rows[1]!.becomes).toContain(HASH);
    expect(rows[1]!.becomes).not.toMatch(/What I found|example|Überblick/);
    expect(await misformattedLines(school.pool)).toEqual([]);

    // Read by its student and by staff, whole and in part; nobody else.
    const path = `submissions/${one!.submission.id}/files/report`;
    const get = (who: Person, whole: string, range?: string) =>
      fetch(`${school.address}/api/v1${whole}`, { headers: { cookie: who.cookie, ...(range ? { range } : {}) } });
    const own = await get(school.ada, `/my/books/fens/${path}`);
    expect(
      createHash('sha256')
        .update(Buffer.from(await own.arrayBuffer()))
        .digest('hex'),
    ).toBe(HASH);
    expect(Object.fromEntries([...(own.headers as unknown as Map<string, string>)])).toMatchObject({
      'x-content-type-options': 'nosniff',
      'content-type': 'application/octet-stream',
      'content-security-policy': "default-src 'none'; sandbox",
      'content-disposition': `attachment; filename="Bericht _ _berblick __.pdf"; filename*=UTF-8''Bericht%20%E2%80%93%20%C3%9Cberblick%20%E6%B9%BF%E5%9C%B0.pdf`,
    });
    const part = await get(school.marker, `/books/fens/${path}`, 'bytes=1048570-1048585');
    expect([part.status, part.headers.get('content-range')]).toEqual([206, `bytes 1048570-1048585/${PDF.length}`]);
    expect(Buffer.from(await part.arrayBuffer())).toEqual(PDF.subarray(1_048_570, 1_048_586));
    expect((await get(school.marker, `/books/fens/${path}`, 'bytes=9999999-')).status).toBe(416);
    for (const who of [school.ben, school.stranger]) {
      expect((await get(who, `/my/books/fens/${path}`)).status).toBeGreaterThanOrEqual(403);
      expect((await get(who, `/books/fens/${path}`)).status).toBeGreaterThanOrEqual(403);
      expect((await patch(who, upload, 0, PDF)).status).toBe(404);
    }
    const history = await school.teacher.must<SubmissionHistory>(
      'GET',
      `/books/fens/submissions/${one!.submission.id}/history`,
    );
    expect(history.map((t) => t.kind)).toEqual(['begun', 'file-came', 'handed-in', 'opened', 'opened']);
  });

  it('is what the ledger, the student and the staff read, each in their words', async () => {
    const id = await assessment();
    const s = await addFile(id, 'pit.pdf', PDF);
    const before = await school.ada.must<DueList>('GET', '/my/due');
    expect(before.work.find((w) => w.assessment === id)).toMatchObject({
      state: 'open',
      lying: 1,
      title: `Work ${id.slice(5)}`,
    });
    await school.ada.must('POST', `${at(id)}/hand-in`, handInOf(s));
    const after = await school.ada.must<DueList>('GET', '/my/due');
    expect(after.work.find((w) => w.assessment === id)).toMatchObject({ state: 'handed-in', lying: 0 });
    const sheet = await school.teacher.must<{ document: { entries: { item: string; attempts: unknown[] }[] } }>('GET', '/books/fens/sheet'); // prettier-ignore
    expect(sheet.document.entries.find((e) => e.item === id)!.attempts).toEqual([
      { receivedAt: '2026-11-24T09:00:00.000Z' },
    ]);
    const { students } = await school.marker.must<Arrivals>('GET', `/books/fens/assessments/${id}/arrivals`);
    expect(students).toHaveLength(3);
    expect(students.map((x) => x.submissions.length).sort()).toEqual([0, 0, 1]);
    expect(students.find((x) => x.enrolment === school.adaId)).toMatchObject({ open: false, late: '' });
    expect(students.find((x) => x.enrolment === school.benId)).toMatchObject({
      open: true,
      due: '2026-12-01T17:00:00.000Z',
    });
  });

  it('says before what the rule will take, and takes that', async () => {
    const id = await assessment({ due: '2026-11-23T08:00:00Z', closes: '2026-11-30T08:00:00Z' });
    const s = await addFile(id, 'late.pdf', PDF);
    const { late, shut } = await page(id);
    expect(shut).toBe('');
    expect(late).toMatchObject([{ label: 'Late 1 day 1 h', figure: expect.stringContaining('4') as string }]);
    await school.ada.must('POST', `${at(id)}/hand-in`, handInOf(s));
    const { students } = await school.teacher.must<Arrivals>('GET', `/books/fens/assessments/${id}/arrivals`);
    expect(students.find((x) => x.enrolment === school.adaId)!.late).toMatch(/4/);
  });

  it.each([
    ['before it opens', { work: { opens: '2026-11-25T08:00:00Z' } }, 'It opens 25 Nov'],
    [
      'after the last moment',
      { due: '2026-11-20T08:00:00Z', closes: '2026-11-21T08:00:00Z' },
      'Work was taken in until',
    ],
    ['on paper', { takesWork: false }, 'Nothing is handed in here: this is on paper or in the room.'],
    ['of nothing', { takesWork: false, work: { elsewhere: 'nothing' } }, 'Nothing is handed in for this.'],
  ])('is refused %s, and the page says so before', async (_when, more, said) => {
    const id = await assessment(more);
    expect((await page(id)).shut).toContain(said);
    const answer = await school.ada.send('PUT', `${at(id)}/work`, { version: 0, typed: 'x', link: '' });
    expect([answer.status, String(answer.body['detail'])]).toEqual([403, expect.stringContaining(said)]);
  });

  it('holds to what is taken: kinds, sizes, numbers of files, the statement, the attempts', async () => {
    const statement = 'All of it comes from me or names its source.';
    const id = await assessment({}, { kinds: ['files'], types: ['pdf'], mostFiles: 1, mostMegabytes: 4, attempts: 2, statement }); // prettier-ignore
    const refused = async (method: string, path: string, body: object): Promise<string> => {
      const answer = await school.ada.send(method, `${at(id)}${path}`, body);
      expect(answer.status).toBe(400);
      return String(answer.body['detail']);
    };
    expect(await refused('PUT', '/work', { version: 0, typed: 'x', link: '' })).toContain('not handed in as that');
    expect(await refused('POST', '/files', { id: 'big', name: 'big.pdf', bytes: 4_000_001 })).toBe(
      'big.pdf has 4.1 MB; one file may have 4.0 MB.',
    );
    const odd = await addFile(id, 'picture.pdf', PNG);
    expect(odd.files[0]!.odd).toBe('picture.pdf is a photograph; taken here: PDF.');
    expect(odd.files[0]!.refused).toBe(true);
    expect(await refused('POST', '/hand-in', handInOf(odd, { statement }))).toContain(
      'Take it out; nothing is handed in yet.',
    );
    expect(await refused('POST', '/files', { id: 'two', name: 'two.pdf', bytes: 5 })).toContain('1 file at most');
    await school.ada.must('DELETE', `${at(id)}/files/${odd.files[0]!.id}`);
    const s = await addFile(id, 'report.pdf', PDF);
    expect(await refused('POST', '/hand-in', handInOf(s))).toContain(`Tick this first: “${statement}”`);
    const first = await school.ada.must<HandedIn>('POST', `${at(id)}/hand-in`, handInOf(s, { statement }));
    expect(first.submission.statement).toBe(statement);
    expect((await page(id)).attemptsLeft).toBe(1);
    const again = await addFile(id, 'report-2.pdf', PDF);
    expect((await school.ada.must<HandedIn>('POST', `${at(id)}/hand-in`, handInOf(again, { statement }))).submission.attempt).toBe(2); // prettier-ignore
    expect((await page(id)).shut).toBe('All 2 attempts are handed in.');
    // The same bytes lie there once, whoever sent them.
    const { rows } = await school.pool.query<{ n: number }>('select count(*)::int as n from blob where sha256 = $1', [
      HASH,
    ]);
    expect(rows).toEqual([{ n: 1 }]);
  });

  it('is taken back while nobody has looked, and not once it is marked, opened or due', async () => {
    const id = await assessment();
    const s = await addFile(id, 'pit.pdf', PDF);
    const { submission } = await school.ada.must<HandedIn>('POST', `${at(id)}/hand-in`, handInOf(s));
    const back = { submission: submission.id, version: submission.version };
    const other = await school.ben.send('POST', `${at(id)}/take-back`, { operation: operation(), ...back });
    expect(other.status).toBe(404);
    const { submission: taken } = await school.ada.must<HandedIn>('POST', `${at(id)}/take-back`, { operation: operation(), ...back }); // prettier-ignore
    expect(taken).toMatchObject({ state: 'taken-back', attempt: null, receipt: submission.receipt });
    expect(await school.ada.must<DueList>('GET', '/my/due').then((d) => d.work.find((w) => w.assessment === id)!.state)).toBe('open'); // prettier-ignore
    const next = await addFile(id, 'better.pdf', PDF);
    const { submission: second } = await school.ada.must<HandedIn>('POST', `${at(id)}/hand-in`, handInOf(next));
    await fetch(`${school.address}/api/v1/books/fens/submissions/${second.id}/files/${second.files[0]!.id}`, {
      headers: { cookie: school.teacher.cookie },
    }).then((r) => r.arrayBuffer());
    const late = await school.ada.send('POST', `${at(id)}/take-back`, {
      ...{ operation: operation(), submission: second.id, version: second.version },
    });
    expect([late.status, late.body['detail']]).toEqual([
      403,
      'Your teacher has opened it already. It stays handed in.',
    ]);
  });

  it('never mixes two windows: what was handed in meanwhile is said, what is typed over another’s words too', async () => {
    const id = await assessment();
    const one = await school.ada.must<Submission>('PUT', `${at(id)}/work`, { version: 0, typed: 'first', link: '' });
    const two = await school.ada.must<Submission>('PUT', `${at(id)}/work`, { version: one.version, typed: 'second', link: '' }); // prettier-ignore
    const stale = await school.ada.send('PUT', `${at(id)}/work`, { version: one.version, typed: 'third', link: '' });
    expect([stale.status, (stale.body['now'] as Submission).typed]).toEqual([409, 'second']);
    expect((await school.ada.send('POST', `${at(id)}/hand-in`, handInOf(one))).status).toBe(409);
    await school.ada.must('POST', `${at(id)}/hand-in`, handInOf(two));
    expect((await school.ada.send('POST', `${at(id)}/hand-in`, handInOf(two))).status).toBe(409);
    const { rows } = await school.pool.query<{ n: number }>(
      `select count(*)::int as n from attempt where assessment = $1 and handed_in`,
      [id],
    );
    expect(rows).toEqual([{ n: 1 }]);
  });
});

describe('what lies there and was not handed in', () => {
  it('is taken in by the teachers, with a reason, without what is not all there', async () => {
    const id = await assessment({ due: '2026-11-20T08:00:00Z', closes: '2026-11-21T08:00:00Z' });
    // Begun while it was open: the clock of the school stood earlier then.
    await school.pool.query(`update school set fixed_now = '2026-11-20T07:00:00Z'`);
    await addFile(id, 'pit.pdf', PDF);
    const s = await school.ada.must<Submission>('POST', `${at(id)}/files`, { id: 'half', name: 'half.pdf', bytes: 9 });
    await school.pool.query(`update school set fixed_now = '2026-11-24T09:00:00Z'`);
    expect((await school.ada.send('POST', `${at(id)}/hand-in`, handInOf(s))).status).toBe(403);
    const path = `/books/fens/submissions/${s.id}/accept`;
    const write = { operation: operation(), version: s.version, reason: 'the line at school was down' };
    for (const who of [school.marker, school.reviewer, school.ada, school.stranger])
      expect((await who.send('POST', path, write)).status).toBeGreaterThanOrEqual(403);
    expect((await school.teacher.send('POST', path, { ...write, reason: ' ' })).status).toBe(400);
    expect((await school.teacher.send('POST', path, { ...write, operation: operation(), version: 99 })).status).toBe(
      409,
    );
    const { submission } = await school.teacher.must<HandedIn>('POST', path, write);
    expect(submission).toMatchObject({ state: 'handed-in', attempt: 1, statement: null });
    const { students } = await school.teacher.must<Arrivals>('GET', `/books/fens/assessments/${id}/arrivals`);
    expect(students.find((x) => x.enrolment === school.adaId)!.late).toMatch(/\d/);
    const { rows } = await school.pool.query<{ reason: string }>(
      `select r.reason from journal j join journal_reason r on r.school = j.school and r.book = j.book and r.batch = j.batch
       where j.assessment = $1 and j.kind = 'submission'`,
      [id],
    );
    expect(rows).toEqual([{ reason: 'the line at school was down' }]);
    expect((await page(id)).before[0]!.receipt).toBe(submission.receipt);
  });
});
