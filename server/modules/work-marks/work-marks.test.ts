import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { randomUUID } from 'node:crypto';
import type { AnnotationPage, AnnotationsBrought, Mark, WorkMarkRow, WorkMarks } from '@contract/work/marks';
import type { JournalPage } from '@contract/history';
import { HandingIn } from '../../testing/hand-in';
import { misformattedLines } from '../../testing/journal-formats';
import { operation, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { restMarks } from './marks-rest';

let school: TestSchool;
let handing: HandingIn;
let submission: string;
let leaf: string;
let elsewhere: string;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
  const id = await handing.assessment();
  const made = await handing.addFile(id, 'pit.txt', Buffer.from('The pit was dug to 110 cm.'));
  leaf = made.files[0]!.id;
  const handedIn = await school.ada.must<{ submission: { id: string } }>('POST', `${handing.at(id)}/hand-in`, handing.write(made)); // prettier-ignore
  submission = handedIn.submission.id;
  elsewhere = (await handing.handIn(await handing.assessment())).id;
});
afterAll(() => school.close());

const note = (comment: string, more: Partial<Mark> = {}): Mark => ({
  ...{ kind: 'note', ink: 'plum', surface: { on: 'whole', index: 0 }, comment, at: [0.5, 0.25] },
  ...more,
});
const at = (s = submission): string => `/books/fens/submissions/${s}`;
const put = (id: string, version: number, mark: Mark | null, who = school.teacher, s = submission, l = leaf) =>
  who.send<WorkMarkRow>('PUT', `${at(s)}/marks/${id}`, { version, leaf: l, mark });
const all = (who: Person = school.teacher): Promise<WorkMarks> => who.must('GET', `${at()}/marks`);

describe('marks on the work', () => {
  it('are made, changed and taken off, each with its own version, and never over what was not seen', async () => {
    const id = randomUUID();
    expect((await put(id, 0, note('Say how.'))).body).toMatchObject({ version: 1, mine: true, leaf });
    // A lost answer: the same once more is done once.
    expect((await put(id, 0, note('Say how.'))).body).toMatchObject({ version: 1 });
    expect((await put(id, 1, note('Say how you know.'), school.marker)).body).toMatchObject({
      version: 2,
      mine: false,
    });
    const stale = await put(id, 1, note('Mine.'));
    expect([stale.status, (stale.body as unknown as { now: WorkMarkRow }).now]).toEqual([
      409,
      expect.objectContaining({ version: 2, mark: note('Say how you know.') }),
    ]);
    expect((await put(id, 2, null)).body).toMatchObject({ version: 3, mark: null });
    expect((await all()).map((m) => m.id)).not.toContain(id);
    // Taken off, it can be put on again.
    expect((await put(id, 3, note('After all.'))).body).toMatchObject({ version: 4, mark: note('After all.') });
    expect((await all(school.reviewer)).find((m) => m.id === id)).toMatchObject({ mark: note('After all.') });
  });

  it('two who mark at once lose nothing', async () => {
    const before = (await all()).length;
    const ids = Array.from({ length: 12 }, () => randomUUID());
    const answers = await Promise.all(ids.map((id, i) => put(id, 0, note(`n${i}`), i % 2 ? school.marker : school.teacher))); // prettier-ignore
    expect(new Set(answers.map((a) => a.status))).toEqual(new Set([200]));
    expect(await all()).toHaveLength(before + 12);
    // The same mark at once: one is kept, the other hears of it.
    const both = await Promise.all([put(ids[0]!, 1, note('a')), put(ids[0]!, 1, note('b'), school.marker)]);
    expect(both.map((a) => a.status).sort()).toEqual([200, 409]);
  });

  it('leave the page as W3C annotations, and come in again without loss and once', async () => {
    const drawn: Mark = {
      ...{ kind: 'pen', ink: 'teal', surface: { on: 'page', index: 1 }, comment: '' },
      strokes: [[[0.1, 0.2, 0.3], [0.25, 0.125, 0.9]]], // prettier-ignore
    };
    await put(randomUUID(), 0, drawn);
    const page = await school.teacher.must<AnnotationPage>('GET', `${at()}/annotations`);
    expect(page).toMatchObject({ '@context': 'http://www.w3.org/ns/anno.jsonld', type: 'AnnotationPage' });
    const bring = (text: string, s = submission, l = leaf) =>
      school.teacher.must<AnnotationsBrought>('POST', `${at(s)}/annotations`, { leaf: l, text });
    const before = await all();
    expect(await bring(JSON.stringify(page))).toEqual({ brought: 0, same: before.length, leftOut: [] });
    for (const m of before) await put(m.id, m.version, null);
    expect(await all()).toEqual([]);
    expect(await bring(JSON.stringify(page))).toMatchObject({ brought: before.length, same: 0 });
    const strip = (rows: WorkMarks) => rows.map(({ id, mark, leaf: l }) => ({ id, mark, l })).sort((a, b) => a.id.localeCompare(b.id)); // prettier-ignore
    expect(strip(await all())).toEqual(strip(before));
    // Of another program: no id of ours, words alone; twice is once.
    const foreign = JSON.stringify({ type: 'Annotation', body: 'x', target: { source: 'pit.txt', selector: { type: 'TextQuoteSelector', exact: 'pit' } } }); // prettier-ignore
    expect([await bring(foreign), await bring(foreign)]).toMatchObject([{ brought: 1 }, { brought: 0, same: 1 }]);
    // What lies on other work stays there.
    const typed = await bring(JSON.stringify(page), elsewhere, 'typed');
    expect([typed.brought, typed.leftOut[0]!.why]).toEqual([0, 'It lies on other work.']);
    expect(await bring('[{"type":"Annotation"}, 7]')).toMatchObject({ brought: 0, leftOut: [{ number: 1 }, { number: 2 }] }); // prettier-ignore
    expect((await school.teacher.send('POST', `${at()}/annotations`, { leaf, text: '{' })).status).toBe(400);
  });

  it('leave one line in the journal when they come to rest, with their hash and not their words', async () => {
    await put(randomUUID(), 0, note('Secret words'));
    const { person } = (await school.pool.query('select person from marked_work where submission = $1', [submission])).rows[0] as { person: string }; // prettier-ignore
    const of = { school: 'tarn', book: 'fens', person };
    expect(await restMarks(school.pool, of)).toBe(0);
    expect([await restMarks(school.pool, of, 0), await restMarks(school.pool, of, 0)]).toEqual([1, 0]);
    const { sets } = await school.teacher.must<JournalPage>('GET', `/books/fens/journal?enrolment=${school.adaId}`);
    expect(sets[0]).toMatchObject({ kind: 'marks', undoable: false });
    expect(JSON.stringify(sets)).not.toContain('Secret');
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('go along with work that is moved', async () => {
    const [wrong, right] = [await handing.assessment(), await handing.assessment()];
    const made = await handing.addFile(wrong, 'wrong.txt', Buffer.from('At the wrong place.'));
    const { submission: s } = await school.ada.must<{ submission: { id: string; version: number } }>('POST', `${handing.at(wrong)}/hand-in`, handing.write(made)); // prettier-ignore
    await put(randomUUID(), 0, note('Where?'), school.marker, s.id, made.files[0]!.id);
    const gone = randomUUID();
    await put(gone, 0, note('Off'), school.teacher, s.id, made.files[0]!.id);
    await put(gone, 1, null, school.teacher, s.id, made.files[0]!.id);
    const moved = await school.teacher.must<{ submission: { id: string } }>('POST', `${at(s.id)}/move`, {
      ...{ operation: operation(), version: s.version, to: { book: 'fens', assessment: right }, reason: 'wrong one' },
    });
    const there = await school.teacher.must<WorkMarks>('GET', `${at(moved.submission.id)}/marks`);
    expect(there.map((m) => [m.mark!.comment, m.mine, m.leaf])).toEqual([['Where?', false, made.files[0]!.id]]);
    const page = await school.teacher.must<AnnotationPage>('GET', `${at(moved.submission.id)}/annotations`);
    expect(JSON.stringify(page)).not.toContain(s.id);
  });

  it('refuse places that are none, and whoever may not', async () => {
    const id = randomUUID();
    for (const [answer, status] of [
      [await put('not-a-uuid', 0, note('x')), 400],
      [await put(id, 0, null), 404],
      [await put(id, 0, note('x'), school.teacher, 'nowhere'), 404],
      [await put(id, 0, note('x'), school.teacher, submission, 'f-of-somebody-else'), 404],
      [await put(id, 0, note('x'), school.teacher, elsewhere), 404],
      [await put(id, 0, { ...note('x'), at: [2, 0] }), 400],
      [await put(id, 0, { ...note('x'), kind: 'pen' }), 400],
      [await put(id, 0, note('x'), school.reviewer), 403],
    ] as const)
      expect([answer.body, answer.status]).toEqual([answer.body, status]);
    for (const who of [school.stranger, school.ada, school.ben])
      for (const [method, path, body] of [
        ['GET', 'marks', undefined],
        ['GET', 'annotations', undefined],
        ['PUT', `marks/${id}`, { version: 0, leaf, mark: note('x') }],
        ['POST', 'annotations', { leaf, text: '[]' }],
      ] as const)
        expect([403, 404]).toContain((await who.send(method, `${at()}/${path}`, body)).status);
  });
});
