import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Between, JournalPage } from '@contract/history';
import type { Sheet } from '@contract/books';
import { sealJournal, verifyJournals } from '../../kernel/journal/seals';
import { unsealedBooks } from '../../kernel/journal/sql/seals';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let beforeScores: number;
let atMoss: number;
beforeAll(async () => {
  school = await testSchool();
  const seq = async (): Promise<number> => (await school.teacher.must<{ seq: number }>('GET', '/books/fens')).seq;
  beforeScores = await seq();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.benId, 0, { kind: 'state', state: 'excused' });
  atMoss = await seq();
  await school.teacher.must('POST', '/books/fens/changes', {
    operation: operation(),
    kind: 'paste',
    cells: [school.adaId, school.benId, school.cleoId].map((enrolment, i) => ({
      assessment: 'reed',
      enrolment,
      version: 0,
      change: { kind: 'score', points: i + 1 },
    })),
  });
  await school.release('moss', null);
  await school.marker.must('PUT', `/books/fens/entries/moss/${school.adaId}`, {
    operation: operation(),
    version: 1,
    change: { kind: 'score', points: 4 },
  });
  await school.teacher.must('PUT', `/books/fens/staff-notes/${school.benId}/*`, {
    operation: operation(),
    version: 0,
    note: 'Ring home on Monday.',
  });
  await school.teacher.must('POST', '/books/fens/intake', {
    operation: operation(),
    title: 'pond-walk.csv',
    cells: [{ assessment: 'test', enrolment: school.benId, version: 0, change: { kind: 'score', points: 44 } }],
  });
});
afterAll(() => school.close());

const page = (query: string): Promise<JournalPage> => school.teacher.must('GET', `/books/fens/journal?${query}`);
const told = async (query: string): Promise<string[]> =>
  (await page(query)).sets.map((s) => `${s.set ?? s.kind} ${s.lines} by ${s.by}`);

describe('the journal’s page', () => {
  it('is searched by words of notes, wherever they were written, and by no more than eight words', async () => {
    expect(await told('words=home+monday')).toEqual(['note 1 by S. teacher']);
    expect(await told('words=home+monday&kind=scores')).toEqual([]);
    const many = await school.teacher.send<{ detail: string }>('GET', `/books/fens/journal?words=${'a+'.repeat(9)}`);
    expect([many.status, many.body.detail]).toEqual([400, 'The journal is searched for 8 words at most.']);
  });

  it('lists sets of changes, the latest first, a paste as one', async () => {
    const { sets, total, people, notes } = await page('');
    expect(sets.slice(0, 6).map((s) => [s.set ?? s.kind, s.lines])).toEqual([
      ['intake', 1],
      ['note', 1],
      ['cell', 1],
      ['release', 3],
      ['paste', 3],
      ['cell', 1],
    ]);
    expect(sets[0]!.first).toBe(total);
    expect(people.map((p) => p.name)).toEqual(expect.arrayContaining(['S. teacher', 'S. marker']));
    expect(Object.values(notes)).toEqual(['Ring home on Monday.']);
    expect(sets.map((s) => s.undoable).slice(0, 4)).toEqual([true, true, true, false]);
  });

  it.each([
    [
      'enrolment and kind',
      () => `enrolment=${school.adaId}&kind=scores`,
      ['cell 1 by S. marker', 'paste 1 by S. teacher', 'cell 1 by S. teacher'],
    ],
    ['an assessment', () => 'assessment=reed&kind=scores', ['paste 3 by S. teacher']],
    ['what was brought in', () => 'kind=intake', ['intake 1 by S. teacher']],
    ['a word of a note', () => 'words=monday', ['note 1 by S. teacher']],
    ['a file’s name', () => 'words=POND', ['intake 1 by S. teacher']],
    ['a name and a state', () => 'words=birch+excused', ['cell 1 by S. teacher']],
    ['a word that nothing has', () => 'words=%25', []],
    ['days before there was a book', () => 'to=2001-01-01T00:00:00Z', []],
  ])('finds by %s', async (_what, query, found) => {
    expect((await told(query())).filter((t) => !t.startsWith('release'))).toEqual(found);
  });

  it('finds by person', async () => {
    const marker = (await page('')).people.find((p) => p.name === 'S. marker')!;
    expect(await told(`person=${marker.id}`)).toEqual(['cell 1 by S. marker']);
  });

  it('goes on by number, nothing twice and nothing left out', async () => {
    for (let i = 0; i < 70; i++) await school.put('test', school.cleoId, i, { kind: 'score', points: i % 40 });
    const first = await page('');
    expect(first.sets).toHaveLength(60);
    const rest = await page(`before=${first.before}`);
    const covered = [...first.sets, ...rest.sets].flatMap((s) =>
      Array.from({ length: s.last - s.first + 1 }, (_, i) => s.first + i),
    );
    expect(covered.sort((a, b) => a - b)).toEqual(Array.from({ length: first.total }, (_, i) => i + 1));
    expect(rest.before).toBe(null);
  });

  it.each(['kind=nonsense', 'from=yesterday', 'person=%27%3B--', 'before=-1', 'from=2026-99-99T00:00:00Z'])(
    'refuses %s with a sentence',
    async (query) => {
      const answer = await school.teacher.send('GET', `/books/fens/journal?${query}`);
      expect([answer.status, answer.body['code']]).toEqual([400, 'bad-request']);
    },
  );
});

describe('the book as it stood', () => {
  const stood = (at: string | number): Promise<Sheet> => school.teacher.must('GET', `/books/fens/as-of?at=${at}`);

  it('is made from the journal alone, at a line or a moment', async () => {
    expect((await stood(beforeScores)).document.entries).toEqual([]);
    const then = await stood(atMoss);
    expect(then.document.entries).toEqual(
      expect.arrayContaining([
        { item: 'moss', student: school.adaId, attempts: [{ score: 16 }] },
        { item: 'moss', student: school.benId, state: 'excused' },
      ]),
    );
    expect(then.document.entries).toHaveLength(2);
    expect((await school.teacher.send('GET', '/books/fens/as-of?at=2001-01-01T00:00:00Z')).status).toBe(404);
    expect((await school.teacher.send('GET', '/books/fens/as-of?at=never')).status).toBe(400);
  });

  it('equals the book itself at its last line, releases and all', async () => {
    const now = await school.teacher.must<Sheet>('GET', '/books/fens/sheet');
    const then = await stood(now.seq);
    const byCell = (s: Sheet) =>
      s.document.entries
        .map((e, i) => ({ ...e, out: s.releaseStates[i] }))
        .filter((e) => Object.keys(e).length > 3)
        .sort((a, b) => `${a.item}${a.student}`.localeCompare(`${b.item}${b.student}`));
    expect(byCell(then)).toEqual(byCell(now));
    expect({ ...then.document, entries: [] }).toEqual({ ...now.document, entries: [] });
  });

  it('can be laid beside another moment', async () => {
    const diff = await school.teacher.must<Between>('GET', `/books/fens/between?from=${atMoss}&to=${atMoss + 3}`);
    expect(diff.cells.map((c) => [c.assessment, c.was, c.becomes]).sort()).toEqual(
      [1, 2, 3].map((n) => ['reed', null, `{"attempts":[{"score":${n}}]}`]),
    );
    expect([diff.rules, diff.assessments, diff.standings.length]).toEqual([false, [], 3]);
  });
});

describe('the seals', () => {
  /** Seals every book's journal; gives how many blocks were made. */
  const seal = async (): Promise<number> => {
    let made = 0;
    for (const b of await unsealedBooks(school.pool)) made += await sealJournal(school.pool, b.school, b.book);
    return made;
  };
  const faults = async (): Promise<string[]> =>
    (await verifyJournals(school.pool)).find((v) => v.book === 'fens')!.faults;

  it('cover every line and show what was altered behind the database’s back', async () => {
    await seal();
    expect(await seal()).toBe(0);
    const [sealed] = (await verifyJournals(school.pool)).filter((v) => v.book === 'fens');
    expect([sealed!.faults, sealed!.open, sealed!.hash.length]).toEqual([[], 0, 64]);
    await school.put('reed', school.adaId, 1, { kind: 'score', points: 2 });
    expect((await verifyJournals(school.pool)).find((v) => v.book === 'fens')).toMatchObject({ open: 1, faults: [] });
    await seal();

    // Somebody with the database in their hands: the triggers off, one old score another.
    const tamper = async (sql: string): Promise<void> => {
      const client = await school.pool.connect();
      try {
        await client.query('set session_replication_role = replica');
        await client.query(sql);
        await client.query('set session_replication_role = origin');
      } finally {
        client.release();
      }
    };
    const set = (from: number, to: number) =>
      `update journal set becomes = replace(becomes, '"score":${from}}', '"score":${to}}') where book = 'fens' and seq = ${atMoss + 1}`;
    await tamper(set(1, 3));
    expect(await faults()).toEqual([expect.stringMatching(/are not as they were sealed \(block 1\)/)]);
    await tamper(set(3, 1));
    expect(await faults()).toEqual([]);
    // A seal made anew over altered lines breaks the chain after it.
    await tamper(`update journal_seal set hash = repeat('0', 64) where book = 'fens' and block = 1`);
    expect(await faults()).toHaveLength(2);
  });

  it('are as fixed as the lines, and cells that hold what no line says are found', async () => {
    await expect(school.pool.query('delete from journal_seal')).rejects.toThrow(/never altered/);
    await school.pool.query(`update attempt set score = 39 where assessment = 'moss' and enrolment = $1`, [
      school.adaId,
    ]);
    expect((await faults()).at(-1)).toMatch(/1 cells? do(es)? not hold what .* last line says/);
  });
});

describe('tally verify-journal', () => {
  it('tells of each book, and of seals that were noted and stand no more', async () => {
    const run = (...args: string[]) =>
      spawnSync(process.execPath, ['terminal/tally.mjs', 'verify-journal', ...args], {
        encoding: 'utf8',
        env: { ...process.env, DATABASE_URL: school.databaseUrl },
      });
    const first = run();
    expect(first.status).toBe(1);
    expect(first.stdout).toMatch(/^tarn\/fens \d+ [0-9a-f]{64} Fens: NOT as it was written: /m);
    expect(first.stdout).toMatch(/^tarn\/hills \d+ [0-9a-f]{64} Hills: as it was written$/m);
    const noted = join(mkdtempSync(join(tmpdir(), 'last-tally-seals-')), 'noted.txt');
    writeFileSync(noted, `tarn/hills 1 ${'a'.repeat(64)} Hills: as it was written\n`);
    expect(run('--known', noted).stdout).toMatch(/Hills: NOT as it was written: the seal up to line 1 is not the one/);
    expect(run('--nonsense').status).toBe(2);
  });
});
