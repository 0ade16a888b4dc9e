import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { canonical } from '@core/book/canonical';
import type { BookDocument } from '@core/book/document';
import { POLICY_AREAS, OPEN_SCHOOL, ENFORCEMENTS, type SchoolRules } from '@core/policy/document';
import type { RolloutMovers } from '@contract/policy';
import { assemble, assembleDocument } from '../books/assemble';
import { makeSchoolRules } from '../policy/policy';
import { rollOutNextBook } from './policy-rollout';
import { transaction } from '../../kernel/database';
import { claimNextBook } from '../policy/sql/rollout';
import { OfficeRules, says, words } from '../../testing/office-rules';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let rules: OfficeRules;
beforeAll(async () => {
  school = await testSchool();
  rules = new OfficeRules(school);
  await rules.scores();
  await rules.make(says({ marks: 'begins' }, { rules: words(['Yes', 'Nearly', 'No']) }));
  await rules.viva();
});
afterAll(() => school.close());

describe('a rollout of a school’s rules', () => {
  it('tried is the person’s alone, ends with the next and when it is dropped; made, it goes on', async () => {
    const begins = says({ rounding: 'begins' });
    const a = await rules.tryIt(begins);
    const b = await rules.tryIt(begins);
    const gone = (id: string) => school.office.send('GET', `/school-rules/rollouts/${id}`);
    expect([(await gone(a.id)).status, (await gone(b.id)).status]).toEqual([404, 200]);
    await school.office.must('DELETE', `/school-rules/rollouts/${b.id}`);
    expect((await gone(b.id)).status).toBe(404);
    const made = await rules.make(begins);
    expect((await school.office.send('DELETE', `/school-rules/rollouts/${made.id}`)).status).toBe(400);
  });

  it('goes on where whoever worked on it is lost, and is made once in each book, in order, by any number of workers', async () => {
    const who = await school.pool.query<{ id: string; school: string }>(
      `select id, school from person where login = 'office'`,
    );
    const by = { school: who.rows[0]!.school, person: who.rows[0]!.id };
    const seqs = async (): Promise<number> =>
      (await school.pool.query<{ n: number }>('select sum(seq)::int as n from book')).rows[0]!.n;
    const first = await seqs();
    // Nobody is woken by these.
    for (const decimals of [2, 3, 4]) {
      const { version } = await rules.now();
      const finer = says({ rounding: 'begins' }, { rounding: { decimals, mode: 'half-up' } });
      await makeSchoolRules(school.pool, by, { operation: operation(), version, reason: 'finer', rules: finer });
    }
    await expect(
      transaction(school.pool, async (db) => {
        expect(await claimNextBook(db)).not.toBeNull();
        throw new Error('lost');
      }),
    ).rejects.toThrow('lost');
    const failures: unknown[] = [];
    const all = async (): Promise<void> => {
      for (let idle = 0; idle < 20;) {
        if (await rollOutNextBook(school.pool, (e) => failures.push(e))) idle = 0;
        else await new Promise((done) => setTimeout(done, ++idle));
      }
    };
    await Promise.all([all(), all(), all()]);
    expect(failures).toEqual([]);
    const { rows } = await school.pool.query<{ n: number }>(
      'select count(*)::int as n from policy_rollout_book where answer is null',
    );
    expect(rows[0]!.n).toBe(0);
    for (const book of ['fens', 'hills']) expect((await rules.rulesOf(book)).rounding.decimals).toBe(4);
    expect((await seqs()) - first).toBe(6);
  });

  it('reads books for its trials as they are read everywhere', async () => {
    const put = async (assessment: string, enrolment: string, ...changes: object[]): Promise<void> => {
      const { rows } = await school.pool.query<{ version: number }>(
        'select version from entry where assessment = $1 and enrolment = $2',
        [assessment, enrolment],
      );
      let version = rows[0]?.version ?? 0;
      for (const change of changes)
        expect((await school.put(assessment, enrolment, version++, change)).status).toBe(200);
    };
    await put(
      'test',
      school.adaId,
      { kind: 'received', at: '2026-11-02T08:00:00.125Z' },
      { kind: 'score', points: 12.5 },
      { kind: 'received', at: '2026-11-03T08:00:00Z' },
      { kind: 'received', at: '2026-11-04T08:00:00Z' },
      { kind: 'score', points: 40 },
      { kind: 'on-time', waived: true },
      { kind: 'allowances', count: 2 },
    );
    await put('test', school.benId, { kind: 'state', state: 'excused' });
    await put('test', school.cleoId, {
      kind: 'dates',
      dueAt: '2026-12-14T17:00:00Z',
      closesAt: '2026-12-20T17:00:00Z',
    });
    await put('reed', school.cleoId, { kind: 'set', points: 7.25 }, { kind: 'protect', on: true });
    await put('viva', school.benId, { kind: 'received', at: '2026-11-02T08:00:00Z' }, { kind: 'mark', label: 'Yes' });
    const { school: id } = (await school.pool.query<{ school: string }>('select school from book limit 1')).rows[0]!;
    const sorted = ({ entries, ...rest }: BookDocument) =>
      canonical({ ...rest, entries: entries.map((e) => canonical(e)).sort() });
    for (const book of ['fens', 'hills'])
      expect(sorted(await assembleDocument(school.pool, id, book)), book).toBe(
        sorted((await assemble(school.pool, id, book)).document),
      );
  });

  it('brings to every book what its trial has shown, whatever the rules', async () => {
    const percent = fc.integer({ min: 0, max: 400 }).map((n) => n / 4);
    const arbRules = fc
      .record({
        stands: fc.array(fc.constantFrom(...ENFORCEMENTS), {
          minLength: POLICY_AREAS.length,
          maxLength: POLICY_AREAS.length,
        }),
        deduct: percent,
        afterDue: percent,
        a: fc.integer({ min: 41, max: 100 }),
        decimals: fc.nat(4),
        days: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 3 }),
        closed: fc.boolean(),
        late: fc.boolean(),
        scale: fc.boolean(),
      })
      .map(({ stands, deduct, afterDue, a, decimals, days, closed, late, scale }): SchoolRules => ({
        ...OPEN_SCHOOL,
        rules: {
          blank: { usual: { beforeDue: 'skip', afterDue: { percent: afterDue } } },
          late: { steady: { unit: 'day', deduct } },
          scales: {
            letters: {
              bands: [
                { label: 'A', from: a },
                { label: 'B', from: 40 },
                { label: 'F', from: 0 },
              ],
            },
          },
          marks: {
            words: [
              { label: 'Yes', percent: 100 },
              { label: 'Nearly', percent: afterDue },
            ],
          },
        },
        late: late ? 'steady' : null,
        scale: scale ? 'letters' : null,
        rounding: { decimals, mode: 'half-up' },
        calendar: { days, closures: closed ? [{ title: 'Fair', from: '2026-10-11', to: '2026-10-12' }] : [] },
        stands: Object.fromEntries(POLICY_AREAS.map((m, i) => [m, stands[i]!])) as SchoolRules['stands'],
      }));
    await fc.assert(
      fc.asyncProperty(arbRules, async (is) => {
        const before = await Promise.all(['fens', 'hills'].map((b) => rules.standings(b)));
        const trial = await rules.tryIt(is);
        const shown = await Promise.all(
          trial.books.map((b) =>
            school.office.must<RolloutMovers>('GET', `/school-rules/rollouts/${trial.id}/books/${b.book}`),
          ),
        );
        const made = await rules.make(is);
        expect(made.books.map((b) => [b.state, b.departs])).toEqual(trial.books.map((b) => [b.state, b.departs]));
        const after = await Promise.all(['fens', 'hills'].map((b) => rules.standings(b)));
        shown.forEach((movers, i) => {
          const moved = [...after[i]!].filter(([id, is]) => before[i]!.get(id) !== is);
          const text = (s: { percent: string | null; letter: string | null }): string =>
            canonical([s.percent === null ? null : Number(s.percent), s.letter]);
          expect(new Map(movers.map((m) => [m.enrolment, text(m.after)]))).toEqual(new Map(moved));
          // Whoever is only given a letter, or loses it with the letters, goes neither up nor down.
          const sameFigure = (m: RolloutMovers[number]): boolean =>
            m.before.percent !== null &&
            m.after.percent !== null &&
            Number(m.before.percent) === Number(m.after.percent) &&
            (m.before.letter === null) !== (m.after.letter === null);
          const ways = movers.filter((m) => !sameFigure(m)).length;
          expect(trial.books[i]!.up + trial.books[i]!.down).toBe(ways);
        });
      }),
      { numRuns: 25 },
    );
  });
});
