import { randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { AssessmentList } from '@contract/assessments';
import type { Instructions } from '@contract/work/instructions';
import { HandingIn } from '../../testing/hand-in';
import { misformattedLines } from '../../testing/journal-formats';
import { operation, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
});
afterAll(() => school.close());

const path = (id: string, more = 'instructions'): string => `/books/fens/assessments/${id}/${more}`;
const read = (id: string): Promise<Instructions> => school.teacher.must('GET', path(id));
const text = (words: string, ...marks: object[]) => ({ type: 'text', text: words, ...(marks.length ? { marks } : {}) });
const doc = (...content: object[]) => ({ type: 'doc', content: [{ type: 'paragraph', content }] });
const write = (version: number, body: object | null) => ({ operation: operation(), version, body });

/** Adds a file with all its bytes; gives it as the staff read it. */
async function attach(id: string, name: string, bytes: Buffer, worksheet = false) {
  const file = `h-${randomBytes(4).toString('hex')}`;
  const body = { operation: operation(), id: file, name, bytes: bytes.length, worksheet };
  const { files } = await school.teacher.must<Instructions>('POST', path(id, 'handouts'), body);
  const begun = files.find((f) => f.id === file)!;
  if (bytes.length > 0) expect((await handing.patch(school.teacher, begun.upload, 0, bytes)).status).toBe(204);
  return (await read(id)).files.find((f) => f.id === file)!;
}

describe('what an assessment asks for', () => {
  it('is written in versions, read by its students, and never overwritten unseen', async () => {
    const id = await handing.assessment();
    expect(await read(id)).toEqual({ version: 0, body: null, files: [] });
    const link = { type: 'link', attrs: { href: 'https://fens.example/map' } };
    const sent = write(0, doc(text('Draw the '), text('map', link, { type: 'bold' })));
    const first = await school.teacher.must<Instructions>('PUT', path(id), sent);
    expect(await school.teacher.must('PUT', path(id), sent)).toEqual(first);
    expect((await handing.page(id)).instructions).toEqual(first.body);
    const stale = await school.coTeacher.send<{ now: Instructions }>('PUT', path(id), write(0, doc(text('Theirs'))));
    expect([stale.status, stale.body.now.version]).toEqual([409, 1]);
    await school.teacher.must('PUT', path(id), write(1, null));
    expect((await handing.page(id)).instructions).toBeNull();
    const { rows } = await school.pool.query('select version from instruction where assessment = $1', [id]);
    expect(rows).toHaveLength(2);
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('goes with a copy of its book, into the next term', async () => {
    const id = await handing.assessment();
    await school.teacher.must('PUT', path(id), write(0, doc(text('Draw the map'))));
    const other = `fens-${operation().slice(-8)}`;
    await school.teacher.must('POST', '/books/fens/copies', {
      ...{ id: other, term: 'autumn', title: 'Fens again', assessments: true, shiftDays: 7 },
    });
    const copy = await school.teacher.must<Instructions>('GET', `/books/${other}/assessments/${id}/instructions`);
    expect(copy).toEqual({ version: 1, body: doc(text('Draw the map')), files: [] });
  });

  it('holds no script: what is no text, list or link of ours is refused at the door', async () => {
    const id = await handing.assessment();
    const link = (href: string) => doc(text('here', { type: 'link', attrs: { href } }));
    for (const body of [
      link('javascript:alert(1)'),
      link('data:text/html,<script>'),
      { type: 'doc', content: [{ type: 'image', attrs: { src: 'https://x.example' } }] },
      { type: 'doc', content: [{ type: 'paragraph', content: [text('x', { type: 'style', attrs: { css: 'x' } })] }] },
      { type: 'doc', content: [{ type: 'paragraph', attrs: { onclick: 'x' } }] },
      '<script>alert(1)</script>',
    ])
      expect((await school.teacher.send('PUT', path(id), write(0, body as object))).status).toBe(400);
    expect((await read(id)).version).toBe(0);
  });

  it('has files, which students see once all of them is there, and a worksheet with their own name', async () => {
    const id = await handing.assessment();
    const bytes = randomBytes(20_000);
    const half = { operation: operation(), id: 'half', name: 'half.pdf', bytes: 9_000, worksheet: false };
    await school.teacher.must('POST', path(id, 'handouts'), half);
    const sheet = await attach(id, 'Blatt – 湿地.docx', bytes, true);
    expect(sheet.sha256).not.toBeNull();
    const page = await handing.page(id);
    expect(page.handouts.map((f) => f.name)).toEqual(['Blatt – 湿地.docx']);
    const at = `${handing.at(id)}/handouts/${sheet.id}`;
    expect((await school.ada.bytes(at)).equals(bytes)).toBe(true);
    const answer = await fetch(`${school.address}/api/v1${at}`, { headers: { cookie: school.ada.cookie } });
    expect(decodeURIComponent(answer.headers.get('content-disposition')!)).toContain('Blatt – 湿地, Adler Ada.docx');
    expect(answer.headers.get('content-security-policy')).toContain('sandbox');
    await answer.arrayBuffer();
    expect((await school.ada.send('GET', `${handing.at(id)}/handouts/half`)).status).toBe(404);
    // Handed back as it was given out, it says so before it is handed in; filled in, it does not.
    await handing.addFile(id, 'my sheet.docx', bytes);
    await handing.addFile(id, 'filled in.docx', Buffer.concat([bytes, Buffer.from('x')]));
    expect((await handing.page(id)).begun!.files.map((f) => f.odd)).toEqual([
      'my sheet.docx is the worksheet as it was given out: nothing in it was changed.',
      null,
    ]);
    await school.teacher.must('POST', path(id, `handouts/${sheet.id}/remove`), { operation: operation() });
    expect((await handing.page(id)).handouts).toEqual([]);
    expect((await school.ada.send('GET', at)).status).toBe(404);
  });

  it('goes along where the assessment is copied, and goes away with one that nobody has anything in', async () => {
    const id = await handing.assessment();
    await school.teacher.must('PUT', path(id), write(0, doc(text('Dig.'))));
    await attach(id, 'map.pdf', randomBytes(5_000));
    const copy = { operation: operation(), book: 'fens', category: 'work', dates: false };
    const { id: made } = await school.teacher.must<{ id: string }>('POST', path(id, 'copies'), copy);
    const copied = await read(made);
    expect([copied.version, copied.files.map((f) => f.name)]).toEqual([1, ['map.pdf']]);
    const all = await school.teacher.must<AssessmentList>('GET', '/books/fens/assessments');
    const { version } = all.find((a) => a.id === made)!;
    await school.teacher.must('DELETE', path(made, '').replace(/\/$/, ''), { operation: operation(), version });
    expect((await school.teacher.send('GET', path(made))).status).toBe(404);
    expect((await read(id)).files).toHaveLength(1);
  });

  it('is written by the teachers, read by those of the book, each file by its own assessment alone', async () => {
    const [id, other] = [await handing.assessment(), await handing.assessment()];
    const file = await attach(id, 'map.pdf', randomBytes(100));
    for (const [who, get, put] of [
      [school.coTeacher, 200, 200],
      [school.marker, 200, 403],
      [school.reviewer, 200, 403],
      [school.office, 200, 403],
      [school.stranger, 404, 404],
      [school.ada, 403, 403],
    ] as [Person, number, number][]) {
      expect((await who.send('GET', path(id))).status).toBe(get);
      expect((await who.send('PUT', path(other), write(0, null))).status).toBe(put);
      expect((await who.send('GET', path(id, `handouts/${file.id}`))).status).toBe(get);
      expect((await who.send('GET', path(other, `handouts/${file.id}`))).status).toBe(get === 200 ? 404 : get);
    }
    expect((await school.ada.send('GET', `${handing.at(other)}/handouts/${file.id}`)).status).toBe(404);
  });
});
