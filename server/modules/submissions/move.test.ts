import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import * as Y from 'yjs';
import type { FeedbackAttachments } from '@contract/work/feedback';
import type { JournalPage } from '@contract/history';
import type { Arrivals, HandedIn, SubmissionHistory, Where, WhereStudents } from '@contract/work/submissions';
import { HandingIn } from '../../testing/hand-in';
import { operation, type Person } from '../../testing/person';
import { misformattedLines } from '../../testing/journal-formats';
import { RULES, testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let handing: HandingIn;
let adaPerson: string;
beforeAll(async () => {
  school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
  handing = new HandingIn(school);
  // A second book of the same teacher, in which Ada is too.
  await school.office.must('POST', '/books', {
    ...{ id: 'bogs', term: 'autumn', title: 'Bogs', sections: [], rules: RULES },
    staff: [{ login: 'teacher', role: 'teacher' }],
  });
  await school.office.must('POST', '/books/bogs/enrolments', { students: [{ number: 'N1', section: null }] });
  await school.teacher.must('POST', '/books/bogs/assessments', {
    ...{ operation: operation(), id: 'peat', title: 'Peat', category: 'work', points: 10, due: '2026-12-01T17:00:00Z' },
    ...{ closes: null, takesWork: true, work: {}, more: {} },
  });
  const { rows } = await school.pool.query<{ id: string }>(`select id from person where login = 'ada'`);
  adaPerson = rows[0]!.id;
});
afterAll(() => school.close());

const move = (s: { id: string; version: number }, to: { book: string; assessment: string }, who: Person, more = {}) =>
  who.send<HandedIn & { detail: string }>('POST', `/books/fens/submissions/${s.id}/move`, {
    ...{ operation: operation(), version: s.version, to, reason: 'handed in to the wrong one' },
    ...more,
  });
const studentsRow = async (book: string, id: string) => {
  const list = await school.teacher.must<Arrivals>('GET', `/books/${book}/assessments/${id}/arrivals`);
  return list.students.find((s) => s.submissions.length > 0);
};
const where = (query = '', who = school.teacher): Promise<Where> =>
  who.must('GET', `/where?person=${adaPerson}${query}`);

describe('moving work', () => {
  it('takes it to another assessment with receipt, times and bytes; both places say so', async () => {
    const [wrong, right] = [await handing.assessment(), await handing.assessment()];
    const bytes = randomBytes(50_000);
    await handing.addFile(wrong, 'sketch.bin', bytes);
    const s = await handing.handIn(wrong);
    const write = { operation: operation() };
    const { body } = await move(s, { book: 'fens', assessment: right }, school.teacher, write);
    expect((await move(s, { book: 'fens', assessment: right }, school.teacher, write)).body).toEqual(body);
    const moved = body.submission;
    expect([moved.receipt, moved.handedInAt, moved.attempt]).toEqual([s.receipt, s.handedInAt, 1]);
    const file = await school.teacher.bytes(`/books/fens/submissions/${moved.id}/files/${moved.files[0]!.id}`);
    expect(file.equals(bytes)).toBe(true);
    expect((await studentsRow('fens', wrong))!.submissions.map((x) => [x.state, x.attempt])).toEqual([['moved', null]]);
    expect((await handing.page(wrong)).before.map((x) => x.state)).toEqual(['moved']);
    expect((await handing.page(wrong)).shut).toBe('');
    expect((await handing.page(right)).before[0]).toMatchObject({ receipt: s.receipt, state: 'handed-in' });
    const history = await school.teacher.must<SubmissionHistory>('GET', `/books/fens/submissions/${moved.id}/history`);
    expect(history.map((t) => t.kind)).toEqual(['begun', 'file-came', 'handed-in', 'moved-in', 'opened']);
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('takes its end note and what was given along', async () => {
    const id = await handing.assessment();
    const s = await handing.handIn(id);
    const at = (kind: string, of = `${id}/${school.adaId}/${s.id}`): string => `/books/fens/${kind}/${of}`;
    const doc = new Y.Doc();
    const paragraph = new Y.XmlElement('paragraph');
    paragraph.insert(0, [new Y.XmlText('Clear drawing.')]);
    doc.getXmlFragment('note').push([paragraph]);
    const [update, has] = [Y.encodeStateAsUpdate(doc), Y.encodeStateVector(new Y.Doc())].map((u) => Buffer.from(u).toString('base64')); // prettier-ignore
    await school.teacher.must('POST', at('end-notes'), { update, has });
    const file = { id: 'key', purpose: 'given', everybody: false, name: 'key.txt', bytes: 3 };
    const [begun] = await school.teacher.must<FeedbackAttachments>('POST', at('feedback-attachments'), file);
    expect((await handing.patch(school.teacher, begun!.upload, 0, Buffer.from('key'))).status).toBe(204);
    await school.teacher.must('POST', '/books/bogs/assessments', {
      ...{
        operation: operation(),
        id: 'moor',
        title: 'Moor',
        category: 'work',
        points: 10,
        due: '2026-12-01T17:00:00Z',
      },
      ...{ closes: null, takesWork: true, work: {}, more: {} },
    });
    const { body } = await move(s, { book: 'bogs', assessment: 'moor' }, school.teacher);
    const enrolment = (await studentsRow('bogs', 'moor'))!.enrolment;
    const there = (kind: string): string => `/books/bogs/${kind}/moor/${enrolment}/${body.submission.id}`;
    expect(await school.teacher.must('GET', there('end-notes'))).toMatchObject({ version: 1 });
    expect(await school.teacher.must('GET', there('feedback-attachments'))).toMatchObject([{ name: 'key.txt' }]);
    expect((await school.teacher.bytes(`${there('feedback-attachments')}/key`)).toString()).toBe('key');
    expect(await school.teacher.must('GET', at('end-notes'))).toMatchObject({ version: 0 });
    expect(await school.teacher.must('GET', at('feedback-attachments'))).toEqual([]);
  });

  it('goes to another book of the same staff, with a line in each journal', async () => {
    const id = await handing.assessment();
    const s = await handing.handIn(id);
    const answer = await move(s, { book: 'bogs', assessment: 'peat' }, school.teacher);
    expect(answer.status).toBe(200);
    expect((await studentsRow('bogs', 'peat'))!.submissions[0]).toMatchObject({ receipt: s.receipt });
    for (const book of ['fens', 'bogs']) {
      const { sets } = await school.teacher.must<JournalPage>('GET', `/books/${book}/journal?kind=submissions`);
      expect(sets[0]).toMatchObject({ reason: 'handed in to the wrong one' });
    }
    const sheet = await school.teacher.must<{ document: { entries: { item: string; attempts?: unknown }[] } }>(
      'GET',
      '/books/fens/sheet',
    );
    expect(sheet.document.entries.find((e) => e.item === id)?.attempts).toBeUndefined();
  });

  it('refuses what is scored, what was changed, places that are none, and those who may not in either book', async () => {
    const [id, other] = [await handing.assessment({}, { attempts: null }), await handing.assessment()];
    const s = await handing.handIn(id);
    const to = { book: 'fens', assessment: other };
    expect((await move(s, { book: 'fens', assessment: id }, school.teacher)).body.detail).toBe(
      'It lies there already.',
    );
    expect((await move(s, { book: 'fens', assessment: 'moss' }, school.teacher)).status).toBe(400);
    expect((await move(s, { book: 'fens', assessment: 'none' }, school.teacher)).status).toBe(400);
    expect((await move({ ...s, version: 1 }, to, school.teacher)).status).toBe(409);
    expect((await move(s, { book: 'hills', assessment: 'x' }, school.teacher)).status).toBe(404);
    expect((await move(s, { book: 'bogs', assessment: 'peat' }, school.coTeacher)).status).toBe(404);
    for (const who of [school.marker, school.reviewer, school.ada]) expect((await move(s, to, who)).status).toBe(403);
    expect((await move(s, to, school.stranger)).status).toBe(404);
    await school.put(id, school.adaId, 1, { kind: 'score', points: 3 });
    expect((await move(s, to, school.teacher)).body.detail).toMatch(/scored already/);
  });

  it('of an earlier attempt leaves the later ones, each with its own', async () => {
    const [id, other] = [await handing.assessment({}, { attempts: null }), await handing.assessment()];
    const first = await handing.handIn(id, school.ada, 'one');
    await handing.handIn(id, school.ada, 'two');
    expect((await move(first, { book: 'fens', assessment: other }, school.office)).status).toBe(200);
    const { before } = await handing.page(id);
    expect(before.map((x) => [x.typed, x.state, x.attempt])).toEqual([
      ['two', 'handed-in', 1],
      ['one', 'moved', null],
    ]);
  });
});

describe('where is …', () => {
  it('finds a student by a few letters among those that the asker may see', async () => {
    const find = (who: Person, words: string): Promise<WhereStudents> =>
      who.must('GET', `/where/students?words=${encodeURIComponent(words)}`);
    expect((await find(school.teacher, 'ad ada')).map((s) => s.name)).toEqual(['Adler, Ada']);
    expect((await find(school.teacher, 'N1')).map((s) => s.name)).toEqual(['Adler, Ada']);
    expect(await find(school.teacher, 'outsider')).toEqual([]);
    expect((await find(school.office, 'outsider')).map((s) => s.name)).toEqual(['Outsider, Ola']);
    expect((await school.ada.send('GET', '/where/students?words=b')).status).toBe(403);
  });

  it('says of each assessment what became of the work', async () => {
    const id = await handing.assessment();
    const bytes = randomBytes(100_000);
    await handing.addFile(id, 'half.jpg', bytes, school.ada, 40_000);
    const finding = async () => (await where(`&book=fens&assessment=${id}`)).findings.map((f) => f.kind);
    expect(await finding()).toEqual(['coming']);
    await school.pool.query(`update upload set heard_at = heard_at - interval '11 minutes' where received < bytes`);
    expect(await finding()).toEqual(['broke-off']);
    const [f] = (await where(`&assessment=${id}`)).findings;
    expect(f!.submission!.files[0]).toMatchObject({ name: 'half.jpg', received: 40_000, bytes: 100_000 });
    await school.put('reed', school.adaId, 0, { kind: 'score', points: 4 });
    await school.put('test', school.adaId, 0, { kind: 'state', state: 'excused' });
    const all = await where();
    const of = (assessment: string) =>
      all.findings.filter((x) => x.assessment === assessment).map((x) => [x.kind, x.scored]);
    expect([of('reed'), of('test'), of('moss')]).toEqual([
      [['recorded', true]],
      [['excused', false]],
      [['elsewhere', false]],
    ]);
    // What was moved says where to, and what came says where from.
    const moved = all.findings.find((x) => x.kind === 'moved' && x.other?.title === 'Peat');
    expect(moved!.other).toEqual({ bookTitle: 'Bogs', title: 'Peat' });
    expect(all.findings.find((x) => x.assessment === 'peat')).toMatchObject({ kind: 'handed-in', book: 'bogs' });
  });

  it('looks only in books where the asker is staff', async () => {
    const marker = await where('', school.marker);
    expect(new Set(marker.findings.map((f) => [f.book, f.manages].join()))).toEqual(new Set(['fens,false']));
    expect(marker.assessments).toEqual([]);
    expect((await school.stranger.send('GET', `/where?person=${adaPerson}`)).status).toBe(404);
    expect(await school.teacher.must('GET', '/where')).toBeNull();
  });
});
