import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Released } from '@contract/statements';
import { TaskThread } from '../../../kernel/task-thread';
import { operation } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';
import { systemAuthor } from '../../books';
import { releaseBesides, releaseHere, type ReleaseTask } from './release-runner';

let school: TestSchool;
let script = '';
let thread: TaskThread<ReleaseTask, Released>;
beforeAll(async () => {
  school = await testSchool();
  // A thread is a built file.
  const root = fileURLToPath(new URL('../../../../', import.meta.url));
  script = join(root, '.cache', `release-thread-${process.pid}.mjs`);
  await build({
    entryPoints: [join(root, 'server/release-thread.ts')],
    outfile: script,
    tsconfig: join(root, 'tsconfig.base.json'),
    ...{ bundle: true, packages: 'external', platform: 'node', format: 'esm', target: 'node20', logLevel: 'error' },
  });
  thread = new TaskThread(pathToFileURL(script), { databaseUrl: school.databaseUrl });
});
afterAll(async () => {
  await thread.stop();
  rmSync(script, { force: true });
  await school.close();
});

const task = (kind: 'release' | 'withdraw', assessment: string): ReleaseTask =>
  ({
    kind,
    who: systemAuthor('tarn', 'fens', teacherId, operation()),
    write: { operation: operation(), assessment, enrolments: null, moveRules: true },
  }) as ReleaseTask;
let teacherId = '';
beforeAll(async () => {
  const { rows } = await school.pool.query<{ id: string }>(`select id from person where login = 'teacher'`);
  teacherId = rows[0]!.id;
});
const written = async (): Promise<unknown[]> =>
  (
    await school.pool.query(
      `select enrolment, assessment, entry from released_entry where withdrawn_at is null order by 1, 2`,
    )
  ).rows;

describe('a release in a thread', () => {
  it('writes and answers what one here does, the same operation once', async () => {
    await school.put('moss', school.adaId, 0, { kind: 'score', points: 12 });
    const here = await releaseHere(school.pool, task('release', 'moss'));
    const rows = await written();
    await releaseHere(school.pool, task('withdraw', 'moss'));
    const asked = task('release', 'moss');
    const there = await thread.ask(asked);
    expect(there.people).toBe(here.people);
    expect(await written()).toEqual(rows);
    expect(await thread.ask(asked)).toEqual(there);
  });

  it('is refused with the same sentence, and the thread goes on', async () => {
    const both = await Promise.allSettled([
      releaseHere(school.pool, task('release', 'nothing')),
      thread.ask(task('release', 'nothing')),
    ]);
    const [here, there] = both.map((r) => (r as PromiseRejectedResult).reason as { code: string; detail: string });
    expect([there!.code, there!.detail]).toEqual([here!.code, here!.detail]);
    expect((await thread.ask(task('withdraw', 'moss'))).people).toBe(3);
  });

  it('is not begun for a small class, which is released before a thread would begin', async () => {
    let asked = 0;
    const counting = { ask: () => Promise.reject(new Error(String(++asked))) };
    const run = releaseBesides(counting as unknown as TaskThread<ReleaseTask, Released>);
    expect((await run(school.pool, task('release', 'reed'))).people).toBe(3);
    expect(asked).toBe(0);
  });

  it('fails where the thread ends under it, and the next one begins another', async () => {
    const under = thread.ask(task('release', 'moss')).catch((error: Error) => error.message);
    await thread.stop();
    expect(await under).toContain('has ended');
    expect((await thread.ask(task('release', 'test'))).people).toBe(3);
  });
});
