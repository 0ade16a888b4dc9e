import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { rulesOf } from '@core/book/assemble';
import { checkBook } from '@core/book/checks/check';
import type { AssessmentList } from '@contract/assessments';
import type { Sheet } from '@contract/books';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import type { RulesState } from '@contract/rules';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const sheet = (): Promise<Sheet> => school.teacher.must<Sheet>('GET', '/books/fens/sheet');

/** Asks again and again, four at a time, for as long as something else is being done. */
async function meanwhile<T>(ask: () => Promise<T>, doing: Promise<unknown>): Promise<T[]> {
  const answers: T[] = [];
  let over = false;
  void doing.then(
    () => (over = true),
    () => (over = true),
  );
  const asking = async (): Promise<void> => {
    while (!over) answers.push(await ask());
  };
  await Promise.all([asking(), asking(), asking(), asking(), doing]);
  return answers;
}

describe('what is read while others change the book', () => {
  it('is of one moment: an assessment that was just made stands in the list with all that is said of it', async () => {
    const making = async (): Promise<void> => {
      for (let n = 0; n < 40; n++)
        await school.teacher.must('POST', '/books/fens/assessments', {
          ...{ operation: operation(), id: `w${n}`, title: `Work ${n}`, category: 'work', points: 5 },
          ...{ due: null, closes: null, takesWork: false, more: {} },
        });
    };
    const lists = await meanwhile(
      () => school.coTeacher.must<AssessmentList>('GET', '/books/fens/assessments'),
      making(),
    );
    expect(new Set(lists.map((l) => l.length)).size).toBeGreaterThan(3);
    for (const list of lists) for (const a of list) expect([a.id, a.scored, a.released]).toEqual([a.id, 0, 0]);
  });

  it('is a book that can be worked out, also while rules and what names them change together', async () => {
    const { document } = await sheet();
    const rules = rulesOf(document);
    const strict = { ...rules, rules: { ...rules.rules, late: { ...rules.rules?.late, strict: { unit: 'day' as const, deduct: 40 } } } }; // prettier-ignore
    const changing = async (): Promise<void> => {
      let version = 1;
      let moss = 1;
      for (let n = 0; n < 40; n++) {
        const on = n % 2 === 0;
        const made = await school.teacher.must<RulesState>('PUT', '/books/fens/rules', {
          ...{ operation: operation(), version, reason: '', rules: on ? strict : rules },
          items: [{ assessment: 'moss', version: moss++, more: on ? { late: 'strict' } : {} }],
        });
        version = made.version;
      }
    };
    const books = await meanwhile(() => sheet(), changing());
    expect(books.length).toBeGreaterThan(10);
    for (const b of books) expect(checkBook(b.document)).toMatchObject({ ok: true });
  });
});
