import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { rulesOf } from '@core/book/assemble';
import type { RulesPart } from '@core/book/change';
import type { Group } from '@core/book/document';
import { computeBook } from '@core/calculation/result';
import type { BookPage, Sheet } from '@contract/books';
import type { JournalPage } from '@contract/history';
import type { Desk } from '@contract/overview';
import type { PeoplePage } from '@contract/people';
import type { RulesState } from '@contract/rules';
import { HandingIn } from '../../testing/hand-in';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { takeCalculation } from '../history';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 11 });
  await school.put('reed', school.adaId, 0, { kind: 'score', points: 9 });
  await school.put('test', school.adaId, 0, { kind: 'score', points: 31 });
  await school.put('test', school.benId, 0, { kind: 'score', points: 20 });
});
afterAll(() => school.close());

const sheet = (): Promise<Sheet> => school.teacher.must<Sheet>('GET', '/books/fens/sheet');
const standings = async (of?: Sheet) =>
  Object.fromEntries(computeBook((of ?? (await sheet())).document).students.map((s) => [s.id, s.percent]));
async function makeRules(change: (rules: RulesPart) => RulesPart) {
  const [{ document }, page] = [
    await sheet(),
    await school.teacher.must<{ rulesVersion: number }>('GET', '/books/fens'),
  ];
  const rules = change(rulesOf(document));
  const body = { operation: operation(), version: page.rulesVersion, reason: 'a policy', rules, items: [] };
  return school.teacher.send<RulesState & { detail?: string }>('PUT', '/books/fens/rules', body);
}
const enrol = (enrolments: string[], part: object) =>
  school.teacher.send<{ detail?: string }>('PATCH', '/books/fens/enrolments', { operation: operation(), enrolments, ...part, reason: '' }); // prettier-ignore
const section = (variant: string | null) =>
  school.teacher.send<{ detail?: string }>('PUT', '/books/fens/sections/north', { operation: operation(), title: 'North', variant, reason: '' }); // prettier-ignore
const journal = (): Promise<JournalPage> => school.teacher.must<JournalPage>('GET', '/books/fens/journal');

describe('variants of the rules', () => {
  it('are had by students and by sections, told in the journal, and seen as they were', async () => {
    const asEverybody = await standings();
    expect((await enrol([school.adaId], { variant: 'graduates' })).body.detail).toContain('no variant “graduates”');
    const made = await makeRules((rules) => ({ ...rules, variants: { graduates: { weights: { work: 10 } }, evening: { leftOut: ['tests'] } } })); // prettier-ignore
    expect(made.status).toBe(200);
    const before = (await sheet()).seq;
    expect((await enrol([school.adaId], { variant: 'graduates' })).status).toBe(200);
    const own = await standings();
    expect(own[school.adaId]).not.toBe(asEverybody[school.adaId]);
    expect(own[school.benId]).toBe(asEverybody[school.benId]);
    // Of a section everybody who has none of their own.
    await enrol([school.adaId, school.benId], { section: 'north' });
    expect((await section('evening')).status).toBe(200);
    const bySection = await standings();
    expect(bySection[school.adaId]).toBe(own[school.adaId]);
    const ben = computeBook((await sheet()).document).students.find((s) => s.id === school.benId)!;
    expect(ben.items.find((i) => i.id === 'test')).toMatchObject({ state: 'left-out', earned: null });
    const people = await school.teacher.must<PeoplePage>('GET', '/books/fens/people');
    expect(people.students.map((s) => [s.id, s.ownVariant])).toContainEqual([school.adaId, 'graduates']);
    const page = await journal();
    expect(page.sets.flatMap((s) => s.shown.map((l) => l.kind))).toContain('section-variant');
    // As it stood before, nobody had one.
    const then = await school.teacher.must<Sheet>('GET', `/books/fens/as-of?at=${before}`);
    expect(await standings(then)).toEqual(asEverybody);
    const now = await school.teacher.must<Sheet>('GET', `/books/fens/as-of?at=${(await sheet()).seq}`);
    expect(await standings(now)).toEqual(bySection);
  });

  it('go along into a copy of the book with the sections that have them', async () => {
    const term = { id: 'spring', title: 'Spring', starts: '2027-01-10', ends: '2027-05-20' };
    await school.office.must('POST', '/terms', term);
    const copy = { id: 'fens-2', term: 'spring', title: 'Fens again', assessments: true, shiftDays: 140 };
    await school.teacher.must('POST', '/books/fens/copies', copy);
    const { sections, variants } = await school.teacher.must<BookPage>('GET', '/books/fens-2');
    expect(variants).toEqual(['graduates', 'evening']);
    expect(sections.map((s) => [s.id, s.variant])).toContainEqual(['north', 'evening']);
  });

  it('cannot go, or have another name, while somebody has them', async () => {
    const without = await makeRules((rules) => ({ ...rules, variants: { evening: rules.variants!['evening']! } }));
    expect([without.status, without.body.detail]).toEqual([400, expect.stringContaining('1 student has the variant “graduates”')]); // prettier-ignore
    const renamed = await makeRules((rules) => ({ ...rules, variants: { ...rules.variants, evening: undefined as never, late: {} } })); // prettier-ignore
    expect([renamed.status, renamed.body.detail]).toEqual([400, expect.stringContaining('1 section has the variant “evening”')]); // prettier-ignore
    expect((await section(null)).status).toBe(200);
    expect((await enrol([school.adaId], { variant: null })).status).toBe(200);
    const gone = await makeRules(({ variants: _v, ...rules }) => rules);
    expect(gone.status).toBe(200);
    // Who had one is put back to it only while it is there.
    const back = (await journal()).sets.find((s) => s.shown.some((l) => l.kind === 'enrol' && l.was?.includes('graduates')))!; // prettier-ignore
    const put = await school.teacher.send<{ detail?: string }>('POST', `/books/fens/journal/${back.batch}/undo`, { operation: operation() }); // prettier-ignore
    expect(put.status).toBeGreaterThanOrEqual(400);
    expect((await sheet()).document.students.every((s) => s.variant === undefined)).toBe(true);
  });
});

describe('what counts again', () => {
  it('holds what it counts: it is not deleted, not put away, and another book goes without', async () => {
    const also = { id: 'test-again', type: 'also' as const, of: 'test', standsIn: true };
    const made = await makeRules((rules) => ({
      ...rules,
      tree: { ...rules.tree, children: rules.tree.children.map((c) => (c.id === 'work' ? { ...(c as Group), children: [also] } : c)) }, // prettier-ignore
    }));
    expect(made.status).toBe(200);
    const list = await school.teacher.must<{ id: string; version: number; title: string }[]>('GET', '/books/fens/assessments'); // prettier-ignore
    const { version } = list.find((a) => a.id === 'test')!;
    const gone = await school.teacher.send<{ detail: string }>('DELETE', '/books/fens/assessments/test', { operation: operation(), version }); // prettier-ignore
    expect([gone.status, gone.body.detail]).toEqual([400, expect.stringContaining('counts again in another place')]);
    await school.teacher.must('POST', '/books', {
      ...{ id: 'carrs', term: 'autumn', title: 'Carrs', sections: [], staff: [] },
      rules: { from: 'fens' },
    });
    expect(JSON.stringify((await school.teacher.must<Sheet>('GET', '/books/carrs/sheet')).document.tree)).not.toContain('"also"'); // prettier-ignore
  });

  it('is refused where it leads round in a circle, with the path in words', async () => {
    const refused = await makeRules((rules) => ({
      ...rules,
      tree: {
        ...rules.tree,
        children: rules.tree.children.map(
          (c) =>
          c.type === 'group' ? { ...c, children: [{ id: `${c.id}-again`, type: 'also', of: c.id === 'work' ? 'tests' : 'work' }] } : c, // prettier-ignore
        ),
      },
    }));
    expect([refused.status, refused.body.detail]).toEqual([400, expect.stringContaining('leads round in a circle')]);
  });
});

describe('a hurdle over an assessment in which names are hidden', () => {
  it('is asked of nobody by name, and what counts it again is not there', async () => {
    const handing = new HandingIn(school);
    const id = await handing.assessment({}, { namesHidden: true });
    await handing.handIn(id, school.ada, 'words of the work');
    const before = await standings();
    const made = await makeRules((rules) => ({
      ...rules,
      hurdles: [{ node: id, atLeast: 'handed-in', capAt: 1 }, { node: id, atLeast: 50, capAt: 2 }],
      tree: { ...rules.tree, children: [{ id: 'hidden-again', type: 'also', of: id, weight: 500 }, ...rules.tree.children] },
    })); // prettier-ignore
    expect(made.status).toBe(200);
    expect(await standings()).toEqual(before);
    const then = await school.teacher.must<Sheet>('GET', `/books/fens/as-of?at=${(await sheet()).seq}`);
    expect(await standings(then)).toEqual(before);
    expect((await makeRules(({ hurdles: _h, ...rules }) => ({ ...rules, tree: { ...rules.tree, children: rules.tree.children.filter((c) => c.type === 'group') } }))).status).toBe(200); // prettier-ignore
  });
});

describe('a book that an earlier calculation worked out', () => {
  it('gets one line that says to how many students there is another figure, once, and says so as it stood before', async () => {
    const made = await makeRules(({ hurdles: _h, ...rules }) => ({
      ...rules,
      tree: {
        ...rules.tree,
        children: rules.tree.children.map((c) => (c.id === 'work' ? { ...(c as Group), children: [], extraCredit: true } : c)), // prettier-ignore
      },
    }));
    expect(made.status).toBe(200);
    const before = (await sheet()).seq;
    const asBefore = await school.teacher.must<Sheet>('GET', `/books/fens/as-of?at=${before}`);
    expect(asBefore.recalculated).toBeUndefined();
    await school.pool.query(`update book set calculation = 1 where id = 'fens'`);
    const { rows } = await school.pool.query<{ person: string }>(`select made_by as person from rules_version where book = 'fens' limit 1`); // prettier-ignore
    const of = { school: 'tarn', book: 'fens', person: rows[0]!.person };
    const moved = await takeCalculation(school.pool, of);
    expect(moved).toBeGreaterThan(0);
    const lines = (await journal()).sets.flatMap((s) => s.shown.filter((l) => l.kind === 'calculation'));
    expect(lines.map((l) => JSON.parse(l.becomes!) as unknown)).toEqual([{ version: 2, students: moved }]);
    expect((await school.teacher.must<Sheet>('GET', `/books/fens/as-of?at=${before}`)).recalculated).toEqual({ version: 2, students: moved }); // prettier-ignore
    // The desk says it, until the book was looked at.
    const news = async () => (await school.teacher.must<Desk>('GET', '/desk')).news.map((n) => [n.book, n.count, n.recalculated]); // prettier-ignore
    await school.pool.query(
      `insert into last_visit (school, book, person, seq, at, since_seq, since_at)
       select school, book, person, $1, school_now(school), $1, school_now(school) from book_staff where book = 'fens'
       on conflict (school, book, person) do update set seq = excluded.seq`,
      [before],
    );
    expect(await news()).toEqual([['fens', 0, moved]]);
    await school.pool.query(`update last_visit set seq = seq + 1 where book = 'fens'`);
    expect(await news()).toEqual([]);
    // Again it is the same operation: nothing is said twice.
    expect(await takeCalculation(school.pool, of)).toBe(moved);
    expect((await sheet()).seq).toBe(before + 1);
  });
});
