import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { itemsOf, type BookDocument, type Entry, type ResultDocument } from '@core/book/document';
import { computeBook } from '@core/calculation/result';
import { proposedBook } from '@core/proposal/proposal';
import { bareBook } from '@core/testing/bare-book';
import type { BookPage } from '@contract/books';
import type { RulesWrite } from '@contract/rules';
import { testPage } from '../../testing/book';
import { openPage, withText } from '../../testing/open-book';
import { soon } from '../../testing/soon';
import { RulesPage } from './rules';

const EXAMPLES = join(process.cwd(), 'core/testing/examples');
const text = (name: string): string => readFileSync(join(EXAMPLES, name), 'utf8');
const names = readdirSync(EXAMPLES)
  .filter((f) => f.endsWith('.result.json'))
  .map((f) => f.replace('.result.json', ''));

/** The page of a book as the server would give it: what is in the document, and nothing else. */
function pageOf(book: BookDocument): BookPage {
  const usual = testPage();
  return {
    ...usual,
    timeZone: book.timeZone,
    asOf: book.asOf,
    students: book.students.map((s) => ({ ...usual.students[0]!, id: s.id, family: s.id, section: s.section ?? null })),
    sections: [...new Set(book.students.flatMap((s) => (s.section ? [s.section] : [])))].map((id) => ({
      id,
      title: id,
      variant: null,
    })),
    assessments: itemsOf(book.tree).map((i) => ({
      ...usual.assessments[0]!,
      ...{
        id: i.id,
        title: i.id,
        points: i.points,
        due: i.due ?? null,
        closes: i.closes ?? null,
        category: book.tree.id,
      },
    })),
  };
}

/** Assessments stand in the order of the page's list, which is not the example's. */
const byItem = (result: ResultDocument): ResultDocument => ({
  ...result,
  students: result.students.map((s) => ({ ...s, items: s.items.toSorted((a, b) => a.id.localeCompare(b.id)) })),
});

describe('the rules of a worked example, brought in as a file,', () => {
  for (const name of names)
    it(`lead to its figures: ${name}`, async () => {
      const example = JSON.parse(text(`${name}.book.json`)) as BookDocument;
      // Marks are entered once the rules name them.
      const marked = (e: Entry): boolean => e.attempts?.some((a) => a.mark !== undefined) === true;
      // Who has a variant is said on People, once the rules have it.
      const students = example.students.map(({ variant: _v, ...s }) => s);
      const bare = { ...bareBook(example), students, entries: example.entries.filter((e) => !marked(e)) };
      const none = bare.entries.map(() => 0);
      const { fixture, sent } = await openPage(
        RulesPage,
        () => ({ version: 2, seq: 4 }),
        (path) => (path === '/books/fens' ? pageOf(bare) : undefined),
        {},
        { seq: 3, document: bare, versions: none.map(() => 1), releaseStates: none.map(() => 0 as const) },
      );
      const root = fixture.nativeElement as HTMLElement;
      await soon(() => expect(root.querySelector('lt-rule-sentence')).not.toBeNull());
      withText(root, 'nav button', 'Paper and file').click();
      await fixture.whenStable();
      const picker = root.querySelector<HTMLInputElement>('input[type=file]')!;
      const file = new File([text(`${name}.book.json`)], `${name}.json`);
      Object.defineProperty(file, 'text', { value: async () => text(`${name}.book.json`) });
      Object.defineProperty(picker, 'files', { value: [file] });
      picker.dispatchEvent(new Event('change', { bubbles: true }));
      await soon(() => expect(root.textContent).toContain('worked out for'));
      withText(root, 'p-button', 'Make it the rule').querySelector('button')!.click();
      await fixture.whenStable();
      const why = root.querySelector('textarea')!;
      why.value = 'as the example has it';
      why.dispatchEvent(new Event('input', { bubbles: true }));
      await fixture.whenStable();
      withText(root, 'p-button', 'Make it the rule').querySelector('button')!.click();
      await soon(() => expect(sent).toHaveLength(1));
      const body = sent[0]!.body as RulesWrite;
      const made = proposedBook(bare, {
        rules: body.rules,
        items: Object.fromEntries((body.items ?? []).map((i) => [i.assessment, i.more])),
      });
      const expected = JSON.parse(text(`${name}.result.json`)) as ResultDocument;
      expect(byItem(computeBook({ ...made, students: example.students, entries: example.entries }))).toEqual(
        byItem(expected),
      );
    });
});
