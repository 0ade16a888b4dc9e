import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { LevelsMade, Marking, RubricPage, RubricTrial } from '@contract/work/marking';
import type { JournalPage } from '@contract/history';
import type { Desk } from '@contract/overview';
import type { Rubric } from '@core/rubric/document';
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

const levels = (...points: number[]) => points.map((p, i) => ({ id: `l${i + 1}`, points: p, words: '' }));
const PIT: Rubric = {
  by: 'points',
  criteria: [
    { id: 'drawing', title: 'Profile drawing', stands: 'counts', levels: levels(2, 4, 6) },
    { id: 'measures', title: 'Field measures', stands: 'counts', levels: levels(2, 4, 6) },
    { id: 'reading', title: 'Reading of the site', stands: 'counts', levels: levels(4, 8) },
    { id: 'sketch', title: 'Sketch', stands: 'bonus', levels: levels(1, 2) },
  ],
};
const put = (id: string, version: number, rubric: Rubric | null, more: object = {}, who = school.teacher) =>
  who.send<RubricPage>('PUT', `/books/fens/assessments/${id}/rubric`, {
    operation: operation(),
    version,
    rubric,
    ...more,
  });
const page = (id: string): Promise<Marking> => school.teacher.must('GET', `/books/fens/assessments/${id}/marking`);
const tryOut = (id: string, rubric: Rubric): Promise<RubricTrial> =>
  school.teacher.must('POST', `/books/fens/assessments/${id}/rubric/trial`, { rubric });
const mark = (criterion: string, points: number | 'out' | null, version = 0) => ({
  ...{ criterion, version },
  mark: points === null ? null : points === 'out' ? { leftOut: true } : { points },
});
const give = (id: string, marks: object[], more: object = {}, who: Person = school.teacher, enrolment = school.adaId) =>
  who.send<LevelsMade>('PUT', `/books/fens/levels/${id}/${enrolment}`, {
    ...{ operation: operation(), work: 'hand-1', rubric: 1, cell: 0, marks },
    ...more,
  });
const scores = (made: LevelsMade) => made.cell.entry.attempts?.map((a) => a.score ?? null) ?? [];

/** An assessment of 20 with the rubric of the pit. */
async function assessment(): Promise<string> {
  const id = await handing.assessment({ takesWork: false });
  expect((await put(id, 0, PIT)).status).toBe(200);
  return id;
}

describe('levels', () => {
  it('that are given in part wait on the desk to be marked on, and to be released once all are', async () => {
    const id = await assessment();
    const waits = async (): Promise<number[]> => {
      const desk = await school.teacher.must<Desk>('GET', '/desk');
      return [desk.toMark, desk.toRelease].map((lines) => lines.find((l) => l.assessment === id)?.count ?? 0);
    };
    expect(await waits()).toEqual([0, 0]);
    const { body } = await give(id, [mark('drawing', 4), mark('measures', 5)]);
    expect(await waits()).toEqual([1, 0]);
    await give(id, [mark('reading', 8), mark('sketch', 'out')], { cell: body.cell.version });
    expect(await waits()).toEqual([0, 1]);
    // One that is taken back is nothing given.
    const last = (await page(id)).drafts[0]!.marks.find((m) => m.criterion === 'sketch')!;
    await give(id, [mark('sketch', null, last.version)], { cell: body.cell.version + 1 });
    expect(await waits()).toEqual([1, 0]);
  });

  it('are given with the score that follows, in one operation that is put back as one', async () => {
    const id = await assessment();
    const first = await give(id, [mark('drawing', 4)]);
    expect([first.status, scores(first.body)]).toEqual([200, [4]]);
    const second = await give(id, [mark('measures', 5), mark('reading', 8), mark('sketch', 1)]);
    expect(scores(second.body)).toEqual([18]);
    expect(second.body.draft.marks.map((m) => [m.criterion, m.version, m.by])).toEqual(
      ['drawing', 'measures', 'reading', 'sketch'].map((c) => [c, 1, 'S. teacher']),
    );
    const { drafts, works } = await page(id);
    expect(drafts).toEqual([second.body.draft]);
    expect(works).toContainEqual({ enrolment: school.adaId, work: 'hand-1' });
    // Undo takes the score and the levels back together.
    await school.teacher.must('POST', '/books/fens/undo', { operation: operation() });
    const after = (await page(id)).drafts[0]!.marks;
    expect(after.filter((m) => m.mark !== null).map((m) => [m.criterion, m.mark])).toEqual([
      ['drawing', { points: 4 }],
    ]);
    const cells = await school.teacher.must<JournalPage>('GET', `/books/fens/journal?assessment=${id}`);
    expect(cells.sets[0]).toMatchObject({ set: 'undo' });
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('are given once by the same operation, and refused by another body under it', async () => {
    const id = await assessment();
    const same = { operation: operation() };
    const [a, b] = [await give(id, [mark('drawing', 6)], same), await give(id, [mark('drawing', 6)], same)];
    expect(b.body).toEqual(a.body);
    expect((await give(id, [mark('drawing', 2)], same)).body).toMatchObject({ code: 'operation-used' });
  });

  it('of two people are merged by criterion; the same criterion after one saw it is not overwritten', async () => {
    const id = await assessment();
    const [a, b] = await Promise.all([
      give(id, [mark('drawing', 6)]),
      give(id, [mark('measures', 2)], {}, school.marker),
    ]);
    expect([a.status, b.status]).toEqual([200, 200]);
    const clash = await give(id, [mark('measures', 6)]);
    expect(clash.status).toBe(409);
    expect(clash.body).toMatchObject({ code: 'stale', now: { draft: { work: 'hand-1' }, cell: { version: 2 } } });
    const again = await give(id, [mark('measures', 6, 1)]);
    expect(scores(again.body)).toEqual([12]);
  });

  it('ask where a score was typed that they do not make, and go back to the sum by one word', async () => {
    const id = await assessment();
    await give(id, [mark('drawing', 4)]);
    await school.put(id, school.adaId, 1, { kind: 'score', points: 15 });
    expect((await give(id, [mark('measures', 6)])).body).toMatchObject({ code: 'stale', detail: expect.stringContaining('typed') }); // prettier-ignore
    const kept = await give(id, [mark('measures', 6)], { sum: 'keep' });
    expect(scores(kept.body)).toEqual([15]);
    expect((await give(id, [], { sum: 'follow', cell: 1 })).status).toBe(409);
    const sum = await give(id, [], { sum: 'follow', cell: 2 });
    expect(scores(sum.body)).toEqual([10]);
    // Taken away, the levels stay, and the next one brings the sum back.
    await school.put(id, school.adaId, 3, { kind: 'clear' });
    expect((await page(id)).drafts[0]!.marks).toHaveLength(2);
    expect(scores((await give(id, [mark('reading', 4)])).body)).toEqual([14]);
    // Excused stands in its place too.
    await school.put(id, school.adaId, 5, { kind: 'state', state: 'excused' });
    expect((await give(id, [mark('sketch', 1)])).status).toBe(409);
    expect((await give(id, [mark('sketch', 1)], { sum: 'follow', cell: 6 })).body.cell.entry.state).toBeUndefined();
  });

  it('left out are out of both sums; with all taken back no score stands', async () => {
    const id = await assessment();
    const out = await give(id, [mark('drawing', 3), mark('measures', 'out'), mark('reading', 4)]);
    expect(scores(out.body)).toEqual([10]);
    const none = await give(id, [mark('drawing', null, 1), mark('reading', null, 1)]);
    expect(scores(none.body)).toEqual([]);
  });

  it('refuses what is no mark of the rubric', async () => {
    const id = await assessment();
    for (const [marks, more] of [
      [[mark('drawing', 7)], {}],
      [[mark('nothing', 1)], {}],
      [[mark('drawing', 1), mark('drawing', 2)], {}],
      [[mark('drawing', 1.23456)], {}],
      [[{ criterion: 'drawing', version: 0, mark: { points: 1, leftOut: true } }], {}],
    ] as const)
      expect([400, 409]).toContain((await give(id, [...marks], more)).status);
    expect((await give(id, [mark('drawing', 2)], { rubric: 2 })).status).toBe(409);
    expect((await give(id, [mark('drawing', 2)], { work: 'hand-2' })).status).toBe(409);
    expect((await give(id, [mark('drawing', 2)], {}, school.teacher, 'nobody')).status).toBe(404);
    expect((await page(id)).drafts).toEqual([]);
  });

  it('belong to the attempt: what is handed in again is marked anew, and the earlier levels stay', async () => {
    const id = await handing.assessment({}, { attempts: 2 });
    await put(id, 0, PIT);
    const first = (await handing.handIn(id)).id;
    expect((await page(id)).works).toContainEqual({ enrolment: school.adaId, work: first });
    await give(id, [mark('drawing', 2)], { work: first });
    const second = (await handing.handIn(id)).id;
    expect((await give(id, [mark('drawing', 6)], { work: first })).body).toMatchObject({ code: 'stale' });
    const given = await give(id, [mark('drawing', 6)], { work: second });
    expect(scores(given.body)).toEqual([2, 6]);
    expect((await page(id)).drafts.map((d) => [d.work, d.marks[0]!.mark])).toEqual(
      [
        [first, { points: 2 }],
        [second, { points: 6 }],
      ].sort((a, b) => (a[0]! < b[0]! ? -1 : 1)),
    );
  });
});

describe('a rubric', () => {
  it('is made in versions, taken off and made again, and never overwritten unseen', async () => {
    const id = await assessment();
    expect((await put(id, 0, PIT)).body).toMatchObject({ code: 'stale' });
    expect((await put(id, 1, PIT)).body.now.version).toBe(1);
    expect((await put(id, 1, null)).body.now).toMatchObject({ version: 2, rubric: null });
    const again = await put(id, 2, PIT);
    expect(again.body.earlier.map((r) => [r.version, r.rubric === null])).toEqual([[2, true], [1, false]]); // prettier-ignore
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('that nothing could be marked by is refused, with the place', async () => {
    const id = await handing.assessment({ takesWork: false });
    const other = { ...PIT, criteria: PIT.criteria.slice(0, 2) };
    expect((await put(id, 0, other)).body).toMatchObject({ errors: [{ pointer: '/rubric/scaled' }] });
    expect((await put(id, 0, { ...other, scaled: true })).status).toBe(200);
    const falling = { ...PIT, criteria: [{ ...PIT.criteria[0]!, levels: levels(6, 4) }, ...PIT.criteria.slice(1)] };
    expect((await put(id, 1, falling)).body).toMatchObject({ errors: [{ pointer: '/rubric/criteria/0/levels/1/points' }] }); // prettier-ignore
  });

  it('changed half-way moves whom it was shown to move, and leaves what was typed', async () => {
    const id = await assessment();
    await give(id, [mark('drawing', 4), mark('measures', 4)]);
    await give(id, [mark('drawing', 5)], {}, school.teacher, school.benId);
    await give(id, [mark('drawing', 2)], {}, school.teacher, school.cleoId);
    await school.put(id, school.cleoId, 1, { kind: 'score', points: 9 });
    const changed: Rubric = {
      ...PIT,
      criteria: [{ ...PIT.criteria[0]!, levels: levels(1, 3, 6) }, ...PIT.criteria.slice(1)],
    };
    const { trial, moves } = await tryOut(id, changed);
    const shown = Object.fromEntries(moves.map((m) => [m.enrolment, [m.from, m.to, m.held, m.criteria]]));
    expect(shown).toEqual({
      [school.adaId]: [8, 7, false, ['drawing']],
      // Half-way between 4 and 6, now between 3 and 6.
      [school.benId]: [5, 4.5, false, ['drawing']],
      [school.cleoId]: [9, 9, true, ['drawing']],
    });
    expect((await put(id, 1, changed)).status).toBe(409);
    // Somebody marks on meanwhile: what was shown is no more what would be.
    await give(id, [mark('reading', 8)]);
    expect((await put(id, 1, changed, { trial })).status).toBe(409);
    const now = await tryOut(id, changed);
    expect((await put(id, 1, changed, { trial: now.trial })).status).toBe(200);
    const { drafts } = await page(id);
    const given = Object.fromEntries(drafts.map((d) => [d.enrolment, d.marks.map((m) => [m.criterion, m.mark])]));
    expect(given[school.adaId]).toEqual([['drawing', { points: 3 }], ['measures', { points: 4 }], ['reading', { points: 8 }]]); // prettier-ignore
    expect(given[school.cleoId]).toEqual([['drawing', { points: 1 }]]);
    const cell = (await give(id, [mark('sketch', 1)], { rubric: 2 }, school.teacher, school.benId)).body;
    expect(scores(cell)).toEqual([5.5]);
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('a criterion that is taken out and comes back is worth what its level is worth then', async () => {
    const id = await assessment();
    await give(id, [mark('drawing', 6), mark('reading', 8)]);
    const without = { ...PIT, scaled: true, criteria: PIT.criteria.slice(1) };
    const out = await tryOut(id, without);
    await put(id, 1, without, { trial: out.trial });
    const back = { ...PIT, criteria: [{ ...PIT.criteria[0]!, levels: levels(2, 4, 5) }, ...PIT.criteria.slice(1)], scaled: true }; // prettier-ignore
    const trial = await tryOut(id, back);
    expect((await put(id, 2, back, { trial: trial.trial })).status).toBe(200);
    expect((await page(id)).drafts[0]!.marks.find((m) => m.criterion === 'drawing')!.mark).toEqual({ points: 5 });
  });

  it('goes with a copy of its assessment and of its book, and keeps an assessment from being deleted once used', async () => {
    const id = await assessment();
    const copy = await school.teacher.must<{ id: string }>('POST', `/books/fens/assessments/${id}/copies`, {
      ...{ operation: operation(), book: 'fens', category: 'work', dates: true },
    });
    expect((await page(copy.id)).rubric.rubric).toEqual(PIT);
    await school.teacher.must('POST', '/books/fens/copies', {
      ...{
        id: `fens-${operation().slice(0, 8)}`,
        term: 'autumn',
        title: 'Fens again',
        assessments: true,
        shiftDays: 0,
      },
    });
    const remove = (version: number) =>
      school.teacher.send('DELETE', `/books/fens/assessments/${copy.id}`, { operation: operation(), version });
    await give(copy.id, [mark('drawing', 4)]);
    await school.put(copy.id, school.adaId, 1, { kind: 'clear' });
    expect((await remove(1)).body).toMatchObject({ code: 'bad-request' });
    await give(copy.id, [mark('drawing', null, 1)]);
    const fresh = await assessment();
    expect((await school.teacher.send('DELETE', `/books/fens/assessments/${fresh}`, { operation: operation(), version: 1 })).status).toBe(200); // prettier-ignore
  });
});

describe('who may', () => {
  it('markers give levels and make no rubric; reviewers read; strangers and students find nothing', async () => {
    const id = await assessment();
    expect((await give(id, [mark('drawing', 4)], {}, school.marker)).status).toBe(200);
    expect((await put(id, 1, null, {}, school.marker)).status).toBe(403);
    expect((await give(id, [mark('measures', 4)], {}, school.reviewer)).status).toBe(403);
    for (const who of [school.stranger, school.ada]) {
      expect([403, 404]).toContain((await who.send('GET', `/books/fens/assessments/${id}/marking`)).status);
      expect([403, 404]).toContain((await who.send('GET', `/books/fens/assessments/${id}/rubric`)).status);
      expect([403, 404]).toContain((await give(id, [mark('measures', 4)], {}, who)).status);
    }
    // An assessment of another book is not there by its id.
    expect((await school.teacher.send('GET', '/books/fens/assessments/elsewhere/marking')).status).toBe(404);
  });
});
