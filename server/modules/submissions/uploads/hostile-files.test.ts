import { randomBytes } from 'node:crypto';
import { strToU8, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { HandedIn, Submission } from '@contract/work/submissions';
import { USUAL_ROOM } from '../../../kernel/config';
import { HandingIn } from '../../../testing/hand-in';
import { operation, type Person } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
});
afterAll(() => school.close());

const fileIn = (s: Submission, name: string) => s.files.find((f) => f.name === name)!;

/** Headers and bytes with which a file comes back to whom. */
async function fetched(who: Person, s: Submission, name: string, as: 'student' | 'staff') {
  const path = `${as === 'student' ? '/my' : ''}/books/fens/submissions/${s.id}/files/${fileIn(s, name).id}`;
  const answer = await fetch(`${school.address}/api/v1${path}`, { headers: { cookie: who.cookie } });
  return { headers: answer.headers, status: answer.status, bytes: Buffer.from(await answer.arrayBuffer()) };
}

const HTML = '<!doctype html><script>fetch("/api/v1/session").then(r=>r.json()).then(alert)</script>';
const SVG = '<svg xmlns="http://www.w3.org/2000/svg" onload="alert(1)"><script>alert(2)</script></svg>';
const PDF = '%PDF-1.7\n1 0 obj<</Type/Catalog/OpenAction<</S/JavaScript/JS(app.alert(1))>>>>endobj\n%%EOF\n';
/** A GIF by its first bytes and a script by the rest, and a PDF that is a ZIP as well. */
const GIF_JS = Buffer.concat([
  Buffer.from('GIF89a/*'),
  Buffer.alloc(30, 1),
  Buffer.from('*/=1;alert(document.cookie)'),
]);
const PDF_ZIP = Buffer.concat([Buffer.from(PDF), Buffer.from(zipSync({ 'x.html': strToU8(HTML) }))]);

describe('a file that means harm', () => {
  it('comes back as it was, as a download that no browser takes for a page of ours', async () => {
    const id = await handing.assessment();
    const files: [string, Buffer][] = [
      ['page.html', Buffer.from(HTML)],
      ['picture.svg', Buffer.from(SVG)],
      ['form.pdf', Buffer.from(PDF)],
      ['picture.gif', GIF_JS],
      ['both.pdf', PDF_ZIP],
    ];
    let s: Submission | null = null;
    for (const [name, bytes] of files) s = await handing.addFile(id, name, bytes);
    await handing.handIn(id);
    for (const [name, bytes] of files)
      for (const [who, as] of [
        [school.ada, 'student'],
        [school.teacher, 'staff'],
      ] as const) {
        const { headers, bytes: back } = await fetched(who, s!, name, as);
        expect(back.equals(bytes)).toBe(true);
        expect(headers.get('content-type')).toBe('application/octet-stream');
        expect(headers.get('content-disposition')).toMatch(/^attachment;/);
        expect(headers.get('x-content-type-options')).toBe('nosniff');
        expect(headers.get('content-security-policy')).toBe("default-src 'none'; sandbox");
      }
  });

  it('under another’s ending is told by its content, and not taken where its kind is not', async () => {
    const id = await handing.assessment({}, { kinds: ['files'], types: ['pdf', 'photograph'] });
    const s = await handing.addFile(id, 'photo.jpg', Buffer.from(HTML));
    expect(fileIn(s, 'photo.jpg')).toMatchObject({ refused: true });
    expect(fileIn(s, 'photo.jpg').odd).toContain('photo.jpg');
    const answer = await school.ada.send<{ detail: string }>('POST', `${handing.at(id)}/hand-in`, handing.write(s));
    expect(answer.status).toBe(400);
    expect(answer.body.detail).toMatch(/Take it out; nothing is handed in yet/);
  });

  it('may be called anything: its name is a name and never a place', async () => {
    const id = await handing.assessment();
    const names = ['../../etc/passwd', 'C:\\Windows\\system.ini', '..', 'a\nb: c.pdf', '"; filename=x.html', '‮gpj.exe', 'ż字 %2e%2e%2f.txt']; // prettier-ignore
    let s: Submission | null = null;
    for (const name of names) s = await handing.addFile(id, name, randomBytes(50));
    await handing.handIn(id);
    expect(s!.files.map((f) => f.name)).toEqual(names);
    for (const name of names) {
      const { status, headers } = await fetched(school.teacher, s!, name, 'staff');
      expect(status).toBe(200);
      const said = headers.get('content-disposition')!;
      expect(said).toMatch(/^attachment; filename="[^"\\\n]*"; filename\*=UTF-8''[\w.%~!-]*$/);
      expect(decodeURIComponent(said.split("UTF-8''")[1]!)).toBe(name);
    }
    for (const name of ['', ' ', 'x'.repeat(256), '\0.pdf'])
      expect((await school.ada.send('POST', `${handing.at(id)}/files`, { id: 'f-odd', name, bytes: 1 })).status).toBe(
        400,
      );
  });

  it('that unpacks to gigabytes is kept as it is and unpacked by nobody', async () => {
    const id = await handing.assessment();
    const layer = zipSync({ 'zeros.bin': new Uint8Array(60_000_000) }, { level: 9 });
    const bomb = Buffer.from(zipSync(Object.fromEntries(Array.from({ length: 60 }, (_, n) => [`${n}.zip`, layer]))));
    const before = process.memoryUsage().rss;
    const s = await handing.addFile(id, 'work.zip', bomb);
    expect(fileIn(s, 'work.zip')).toMatchObject({ mediaType: 'application/zip', odd: null });
    await handing.handIn(id);
    expect(process.memoryUsage().rss - before).toBeLessThan(100_000_000);
  });

  it('in ten thousand pieces is stopped where the room for them ends, and what was there is handed in', async () => {
    const id = await handing.assessment();
    let refused = 0;
    for (let n = 0; n < 10_000 && refused < 3; n++) {
      const body = { id: `tiny-${n}`, name: `${n}.txt`, bytes: 1 };
      const answer = await school.ben.send<{ detail: string }>('POST', `${handing.at(id)}/files`, body);
      if (answer.status === 200) {
        const { upload } = (answer.body as unknown as Submission).files.find((f) => f.id === body.id)!;
        await handing.patch(school.ben, upload, 0, Buffer.from('x'));
        continue;
      }
      refused++;
      expect([answer.status, answer.body.detail]).toEqual([400, '50 files at most. Take one out first.']);
    }
    const { begun } = await handing.page(id, school.ben);
    expect(begun!.files).toHaveLength(50);
    const { submission } = await school.ben.must<HandedIn>('POST', `${handing.at(id)}/hand-in`, handing.write(begun!));
    expect(submission.files).toHaveLength(50);
  });

  it('finds no room where its school has none left, whoever brings it', async () => {
    const id = await handing.assessment();
    const { rows } = await school.pool.query<{ bytes: string }>('select sum(bytes) as bytes from blob');
    const usual = USUAL_ROOM.school;
    USUAL_ROOM.school = Number(rows[0]!.bytes) + 9;
    try {
      const begin = (who: Person, path: string, more: object = {}) =>
        who.send<{ detail: string }>('POST', path, { id: 'full', name: 'a.txt', bytes: 10, ...more });
      const own = await begin(school.ben, `${handing.at(id)}/files`);
      const staff = { operation: operation(), worksheet: false };
      const given = await begin(school.teacher, `/books/fens/assessments/${id}/handouts`, staff);
      for (const answer of [own, given])
        expect([answer.status, answer.body.detail]).toEqual([
          400,
          'There is no room left for files in this school. Tell the office; nothing was lost.',
        ]);
      expect((await begin(school.ben, `${handing.at(id)}/files`, { bytes: 9 })).status).toBe(200);
    } finally {
      USUAL_ROOM.school = usual;
    }
  });

  it('that lies about its length brings in no byte more than it said, whatever its headers say', async () => {
    const id = await handing.assessment();
    const s = await school.ada.must<Submission>('POST', `${handing.at(id)}/files`, {
      id: 'lie',
      name: 'lie.bin',
      bytes: 10,
    });
    const { upload } = s.files[0]!;
    for (const headers of [
      {},
      { 'upload-length': '1000000' },
      { 'upload-offset': '-5' },
      { 'upload-offset': '5' },
    ] as Record<string, string>[])
      // prettier-ignore
      expect((await handing.patch(school.ada, upload, 0, randomBytes(5_000), headers)).status).toBeGreaterThanOrEqual(400);
    const { rows } = await school.pool.query<{ n: number }>(
      `select coalesce(sum(length(c.data)), 0)::int as n from blob_chunk c join upload u on u.blob = c.blob where u.id = $1`,
      [upload],
    );
    expect(rows[0]!.n).toBeLessThanOrEqual(10);
    const { begun } = await handing.page(id);
    expect((await school.ada.send('POST', `${handing.at(id)}/hand-in`, handing.write(begun!))).status).toBe(400);
  });

  it('is opened by nobody but its student and the staff of its book, whoever guesses its ids', async () => {
    const id = await handing.assessment();
    const s = await handing.addFile(id, 'mine.txt', Buffer.from('mine'));
    await handing.handIn(id);
    const file = fileIn(s, 'mine.txt');
    const staff = `/books/fens/submissions/${s.id}/files/${file.id}`;
    for (const [who, status] of [
      [school.teacher, 200],
      [school.coTeacher, 200],
      [school.marker, 200],
      [school.reviewer, 200],
      [school.office, 200],
      [school.stranger, 404],
      [school.ben, 403],
    ] as const)
      expect((await who.send('GET', staff)).status).toBe(status);
    expect((await school.ben.send('GET', `/my${staff}`)).status).toBe(404);
    expect((await school.stranger.send('GET', staff.replace('fens', 'hills'))).status).toBe(404);
    for (const guess of [file.sha256!, file.upload, `${file.id}0`])
      for (const who of [school.ada, school.ben])
        expect((await who.send('GET', `/my/books/fens/submissions/${s.id}/files/${guess}`)).status).toBe(404);
    // A hash in the place of an upload's id opens nothing either.
    const head = await fetch(`${school.address}/api/v1/uploads/${file.upload}`, {
      method: 'HEAD',
      headers: { cookie: school.ben.cookie, 'tus-resumable': '1.0.0' },
    });
    expect(head.status).toBe(404);
  });
});
