import { createHash, randomBytes } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Submission } from '@contract/work/submissions';
import { HandingIn } from '../../../testing/hand-in';
import { testSchool, type TestSchool } from '../../../testing/school';

let school: TestSchool;
let handing: HandingIn;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
});
afterAll(() => school.close());

const PDF = Buffer.concat([Buffer.from('%PDF-1.7\n'), randomBytes(3_000_000)]);
const HASH = createHash('sha256').update(PDF).digest('hex');

describe('an upload', () => {
  it('is written by who came last alone', async () => {
    const id = await handing.assessment();
    const s = await school.ada.must<Submission>('POST', `${handing.at(id)}/files`, {
      id: 'a',
      name: 'a.pdf',
      bytes: PDF.length,
    });
    const { upload } = s.files[0]!;
    // A line that is dead and looks whole: its bytes come no more, and the next goes on.
    const dead = new AbortController();
    const slow = fetch(`${school.address}/api/v1/uploads/${upload}`, {
      method: 'PATCH',
      signal: dead.signal,
      headers: {
        ...{ cookie: school.ada.cookie, 'x-last-tally-token': school.ada.token, 'tus-resumable': '1.0.0' },
        ...{ 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' },
      },
      body: new ReadableStream({ start: (c) => c.enqueue(new Uint8Array(PDF.subarray(0, 1_200_000))) }),
      duplex: 'half',
    } as RequestInit).catch(() => null);
    await expect.poll(() => school.pool.query('select received from upload where id = $1', [upload]).then((r) => Number((r.rows[0] as { received: string }).received)), { timeout: 10_000 }).toBeGreaterThan(1_000_000); // prettier-ignore
    const from = await handing.offsetOf(school.ada, upload);
    expect((await handing.patch(school.ada, upload, from, PDF.subarray(from))).status).toBe(204);
    dead.abort();
    await slow;
    expect((await handing.page(id)).begun!.files[0]!.sha256).toBe(HASH);
  });

  it('of fewer bytes than were said is not all there, and more than were said are not taken', async () => {
    const id = await handing.assessment();
    const s = await school.ada.must<Submission>('POST', `${handing.at(id)}/files`, {
      id: 'a',
      name: 'a.pdf',
      bytes: 10,
    });
    const { upload } = s.files[0]!;
    expect((await handing.patch(school.ada, upload, 0, Buffer.alloc(4))).status).toBe(204);
    expect((await handing.patch(school.ada, upload, 4, Buffer.alloc(20))).status).toBeGreaterThanOrEqual(400);
    expect(await handing.offsetOf(school.ada, upload)).toBeLessThanOrEqual(10);
    expect(
      (await handing.page(id)).begun!.files[0]!.sha256 === null || (await handing.offsetOf(school.ada, upload)) === 10,
    ).toBe(true);
  });

  it('of nothing is a file that is empty, and says so', async () => {
    const id = await handing.assessment();
    await school.ada.must('POST', `${handing.at(id)}/files`, { id: 'a', name: 'nothing.pdf', bytes: 0 });
    expect((await handing.page(id)).begun!.files[0]!.odd).toContain('nothing.pdf is empty');
  });
});

describe('what is not handed in', () => {
  it('is let go of after a week where it broke off, with its bytes, and nothing else is', async () => {
    const id = await handing.assessment();
    const whole = await handing.addFile(id, 'whole.pdf', PDF);
    const s = await school.ada.must<Submission>('POST', `${handing.at(id)}/files`, { id: 'half', name: 'half.pdf', bytes: 2_000_000 }); // prettier-ignore
    const { upload } = s.files.find((f) => f.id === 'half')!;
    expect((await handing.patch(school.ada, upload, 0, randomBytes(1_100_000))).status).toBe(204);
    const count = async (table: 'blob' | 'upload'): Promise<number> =>
      (await school.pool.query<{ n: number }>(`select count(*)::int as n from ${table}`)).rows[0]!.n;
    const before = { blobs: await count('blob'), uploads: await count('upload') };
    await school.doJobs();
    expect((await handing.page(id)).begun!.files).toHaveLength(2);
    await school.pool.query(`update upload set heard_at = heard_at - interval '8 days' where id = $1`, [upload]);
    await school.doJobs();
    const now = (await handing.page(id)).begun!;
    expect([now.files.map((f) => f.name), now.version > whole.version]).toEqual([['whole.pdf'], true]);
    expect({ blobs: await count('blob'), uploads: await count('upload') }).toEqual({ blobs: before.blobs - 1, uploads: before.uploads - 1 }); // prettier-ignore
  });
});
