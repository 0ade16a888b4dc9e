import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PutBackMade, PutBackPreview } from '@contract/history';
import { operation, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const step = (who: Person, kind: 'undo' | 'redo', op = operation()) =>
  who.send<PutBackMade & { detail: string }>('POST', `/books/fens/${kind}`, { operation: op });
const scores = async (assessment: string): Promise<unknown> =>
  (
    await school.pool.query<{ score: number }>(
      'select score::float as score from attempt where assessment = $1 and score is not null order by score',
      [assessment],
    )
  ).rows.map((r) => r.score);
const changes = (kind: string, cells: unknown[], op = operation()) =>
  school.teacher.send<{ batch: string; detail: string; now: unknown[] }>('POST', '/books/fens/changes', {
    operation: op,
    kind,
    cells,
  });
/** A score over whatever is kept now. */
const over = async (assessment: string, enrolment: string, points: number) => {
  const { rows } = await school.pool.query<{ version: number }>(
    'select version from entry where assessment = $1 and enrolment = $2',
    [assessment, enrolment],
  );
  return score(assessment, enrolment, rows[0]?.version ?? 0, points);
};
const score = (assessment: string, enrolment: string, version: number, points: number) => ({
  assessment,
  enrolment,
  version,
  change: { kind: 'score', points },
});

describe('undo and redo', () => {
  it('go back and forth over single scores and pastes, each as one, whatever server answers', async () => {
    await school.put('moss', school.adaId, 0, { kind: 'score', points: 5 });
    await changes('paste', [score('moss', school.adaId, 1, 6), score('moss', school.benId, 0, 7)]);
    expect(await scores('moss')).toEqual([6, 7]);
    const first = await step(school.teacher, 'undo');
    expect([first.status, first.body.cells.length]).toEqual([200, 2]);
    expect(await scores('moss')).toEqual([5]);
    await step(school.teacher, 'undo');
    expect(await scores('moss')).toEqual([]);
    await step(school.teacher, 'redo');
    expect(await scores('moss')).toEqual([5]);
    await step(school.teacher, 'redo');
    expect(await scores('moss')).toEqual([6, 7]);
    expect((await step(school.teacher, 'redo')).body.detail).toBe('There is nothing to make again.');
    await step(school.teacher, 'undo');
    await step(school.teacher, 'undo');
    await step(school.teacher, 'redo');
    expect(await scores('moss')).toEqual([5]);
  });

  it('goes over moments in whatever way they were written', async () => {
    await school.put('reed', school.adaId, 0, { kind: 'due', dueAt: '2026-11-27T18:00:00+01:00' });
    expect((await step(school.teacher, 'undo')).body.cells).toMatchObject([{ entry: {} }]);
    expect((await step(school.teacher, 'redo')).body.cells).toMatchObject([
      { entry: { dueAt: '2026-11-27T17:00:00.000Z' } },
    ]);
    await step(school.teacher, 'undo');
  });

  it('has nothing to make again once something else was changed', async () => {
    await step(school.teacher, 'undo');
    await school.put('reed', school.benId, 0, { kind: 'score', points: 3 });
    expect((await step(school.teacher, 'redo')).status).toBe(409);
    await step(school.teacher, 'undo');
  });

  it('does an operation that is tried again once', async () => {
    await school.put('reed', school.cleoId, 0, { kind: 'score', points: 1 });
    await school.put('reed', school.cleoId, 1, { kind: 'score', points: 2 });
    const op = operation();
    await step(school.teacher, 'undo', op);
    const again = await step(school.teacher, 'undo', op);
    expect([again.status, again.body.cells[0]?.entry]).toEqual([200, { attempts: [{ score: 1 }] }]);
    expect(await scores('reed')).toEqual([1]);
  });

  it('is everybody’s own, and never goes over what somebody else changed since', async () => {
    await school.put('test', school.adaId, 0, { kind: 'score', points: 10 });
    await school.marker.must('PUT', `/books/fens/entries/test/${school.adaId}`, {
      operation: operation(),
      version: 1,
      change: { kind: 'score', points: 20 },
    });
    const refused = await step(school.teacher, 'undo');
    expect(refused.status).toBe(409);
    expect(refused.body.detail).toBe('This was changed afterwards by S. marker, so nothing was put back.');
    expect(await scores('test')).toEqual([20]);
    await step(school.marker, 'undo');
    expect(await scores('test')).toEqual([10]);
    expect((await step(school.teacher, 'undo')).status).toBe(200);
    expect(await scores('test')).toEqual([]);
  });
});

describe('changes made together', () => {
  it('are kept whole or not at all, and the same operation changes nothing more', async () => {
    const op = operation();
    const cells = [score('test', school.benId, 0, 30), score('test', school.cleoId, 0, 31)];
    const made = await changes('paste', cells, op);
    const again = await changes('paste', cells, op);
    expect([again.status, again.body.batch]).toEqual([200, made.body.batch]);
    const stale = await changes('fill', [score('test', school.benId, 0, 1), score('test', school.cleoId, 1, 2)]);
    expect([stale.status, stale.body.now.length]).toEqual([409, 1]);
    expect(await scores('test')).toEqual([30, 31]);
    const twice = await changes('fill', [score('test', school.benId, 1, 1), score('test', school.benId, 1, 2)]);
    expect([twice.status, twice.body.detail]).toEqual([
      400,
      '1 cell is named twice in what was sent. Nothing was changed.',
    ]);
  });
});

describe('putting back from the journal', () => {
  const preview = (batch: string) =>
    school.teacher.must<PutBackPreview>('GET', `/books/fens/journal/${batch}/put-back`);
  const putBack = (batch: string, more: object, who = school.teacher) =>
    who.send<PutBackMade & { detail: string }>('POST', `/books/fens/journal/${batch}/put-back`, {
      operation: operation(),
      leaveLater: false,
      reason: 'an appeal',
      ...more,
    });

  it('shows what it would do, says what stands on it, and can leave that', async () => {
    const { body } = await changes('paste', [
      await over('test', school.adaId, 40),
      await over('test', school.benId, 41),
      await over('test', school.cleoId, 42),
    ]);
    await school.put('test', school.cleoId, 2, { kind: 'state', state: 'excused' });
    const seen = await preview(body.batch);
    expect(seen.lines.map((l) => [l.now, l.becomes, l.later?.by ?? null])).toEqual([
      ['{"attempts":[{"score":40}]}', '{}', null],
      ['{"attempts":[{"score":41}]}', '{"attempts":[{"score":30}]}', null],
      ['{"attempts":[{"score":42}],"state":"excused"}', '{"attempts":[{"score":31}]}', 'S. teacher'],
    ]);
    const whole = await putBack(body.batch, {});
    expect([whole.status, whole.body.detail]).toEqual([
      409,
      '1 of these 3 were changed afterwards by S. teacher, so nothing was put back.',
    ]);
    const some = await putBack(body.batch, { leaveLater: true });
    expect([some.body.left, some.body.cells.length]).toEqual([1, 2]);
    expect(await scores('test')).toEqual([30, 42]);
    expect((await preview(body.batch)).undone).toBe(true);
    expect((await putBack(body.batch, {})).body.detail).toBe('This was put back already.');
  });

  it('goes over a put-back of a put-back of an undo, however deep', async () => {
    const { body } = await changes('fill', [await over('reed', school.adaId, 11)]);
    let last = body.batch;
    for (const undone of [true, false, true, false, true]) {
      last = (await putBack(last, {})).body.batch;
      expect((await preview(body.batch)).undone).toBe(undone);
      expect(((await scores('reed')) as number[]).includes(11)).toBe(!undone);
    }
    expect((await putBack(body.batch, {})).body.detail).toBe('This was put back already.');
  });

  it('puts back one line of a set, and the set stands as not put back', async () => {
    const { body } = await changes('fill', [await over('moss', school.adaId, 8), await over('moss', school.benId, 9)]);
    const { lines } = await preview(body.batch);
    await putBack(body.batch, { only: [lines[0]!.seq] });
    expect(await scores('moss')).toEqual([9]);
    expect((await preview(body.batch)).undone).toBe(false);
  });

  it('puts rules back with a reason, by those who may change them', async () => {
    const page = await school.teacher.must<{ rulesVersion: number }>('GET', '/books/fens');
    const { document } = await school.teacher.must<{ document: { tree: unknown } & Record<string, unknown> }>(
      'GET',
      '/books/fens/sheet',
    );
    const { rows } = await school.pool.query<{ rules: string }>(
      `select rules from rules_version where book = 'fens' order by version desc limit 1`,
    );
    expect(document.tree).toBeDefined();
    const was = JSON.parse(rows[0]!.rules) as Record<string, unknown>;
    await school.teacher.must('PUT', '/books/fens/rules', {
      operation: operation(),
      version: page.rulesVersion,
      reason: 'a try',
      rules: { ...was, rounding: { decimals: 0, mode: 'half-up' } },
    });
    const line = await school.pool.query<{ batch: string }>(
      `select batch from journal where book = 'fens' and kind = 'rules' order by seq desc limit 1`,
    );
    const { batch } = line.rows[0]!;
    expect((await putBack(batch, {}, school.marker)).status).toBe(403);
    expect((await putBack(batch, {})).body.book).toBe(true);
    const now = await school.pool.query<{ rules: string; reason: string }>(
      `select rules, reason from rules_version where book = 'fens' order by version desc limit 1`,
    );
    expect([JSON.parse(now.rows[0]!.rules), now.rows[0]!.reason]).toEqual([was, 'an appeal']);
  });

  it('sends releases to their own page', async () => {
    await school.release('moss', [school.benId]);
    const { rows } = await school.pool.query<{ batch: string }>(
      `select batch from journal where kind = 'release' limit 1`,
    );
    expect((await putBack(rows[0]!.batch, {})).body.detail).toMatch(/^A release is withdrawn.* on the Release page/);
  });

  it('puts notes and flags back too', async () => {
    const at = `/books/fens/staff-notes/${school.adaId}/moss`;
    const first = await school.teacher.must<{ version: number }>('PUT', at, {
      operation: operation(),
      version: 0,
      note: 'Smudged page.',
      secondLook: true,
    });
    expect(first).toMatchObject({
      version: 1,
      note: { text: 'Smudged page.', by: 'S. teacher' },
      secondLookBy: 'S. teacher',
    });
    await school.teacher.must('PUT', at, { operation: operation(), version: 1, note: '' });
    const undone = await step(school.teacher, 'undo');
    expect(undone.body.remarks).toMatchObject([{ version: 3, note: { text: 'Smudged page.' } }]);
    const stale = await school.teacher.send('PUT', at, { operation: operation(), version: 1, note: 'x' });
    expect([stale.status, stale.body['code']]).toEqual([409, 'stale']);
    // The line holds no text: that stands beside it.
    const { rows } = await school.pool.query(`select 1 from journal where becomes like '%Smudged%'`);
    expect(rows).toEqual([]);
  });
});
