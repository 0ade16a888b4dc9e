import { describe, expect, it } from 'vitest';
import { assembleBook, assembleSkeleton } from '@core/book/assemble';
import { checkBook } from '@core/book/checks/check';
import type { BookDocument, Entry } from '@core/book/document';
import { firstRules } from '@core/book/first-rules';
import { computeBook } from '@core/calculation/result';
import { proposedBook } from '@core/proposal/proposal';
import { draftOf, proposalOf, type ClassFigures, type Draft } from './draft';
import { POLICIES, type Policy } from './policies.data';
import { PARTS } from './sentences';
import { plainWords, type Piece } from './sentences/sentence';

const ASOF = '2027-01-20T12:00:00Z';
const LETTERS = ['A', 'B', 'C', 'D', 'F'].map((label, i) => ({ label, from: [90, 80, 70, 60, 0][i]! }));

/** A book with these categories and the first rules: letters from 90, 80, 70, 60. */
function bookOf({ categories, scores, due = {}, variants = [], decimals = 2 }: Policy) {
  const ids = Object.keys(categories);
  const first = firstRules(ids.map((id) => ({ id, title: id, weight: categories[id]![0] })));
  const rules = {
    ...first,
    rules: { ...first.rules, scales: { letters: { bands: LETTERS } } },
    scale: 'letters',
    rounding: { decimals, mode: 'half-up' as const },
  };
  const placed = ids.flatMap((category) =>
    Object.entries(categories[category]![1]).map(([id, points]) => ({
      category,
      item: { id, type: 'item' as const, points, ...due[id] },
    })),
  );
  const students = scores.map((_, i) => ({ id: `s${i}`, ...(variants[i] ? { variant: variants[i] } : {}) }));
  const entries = scores.flatMap((of, i) =>
    Object.entries(of).map(([item, has]): Entry => {
      const attempts = (typeof has === 'number' ? [has] : Array.isArray(has) ? has : []).map((score) => ({ score }));
      const own = typeof has === 'object' && !Array.isArray(has) ? has : { attempts };
      return { student: `s${i}`, item, ...own };
    }),
  );
  const skeleton = assembleSkeleton('Europe/Dublin', rules, placed);
  return { rules, placed, students, book: assembleBook(skeleton, ASOF, students, entries) };
}

/** The class of a book as it is. */
function classOf(book: BookDocument, items: string[]): ClassFigures {
  const percents = computeBook(book).students.flatMap((s) => (s.percent === null ? [] : [Number(s.percent)]));
  const marked = (item: string): number[] =>
    book.entries.flatMap((e) => (e.item === item ? (e.attempts ?? []).flatMap((a) => a.score ?? []) : []));
  return { marked: new Map(items.map((id) => [id, marked(id)])), percents: { rounded: percents, exact: percents } };
}

/** The word of the page with a label, with its part's title before it where two say it; throws where it is not there. */
function wordOf(draft: Draft, place: string): Exclude<Piece, string> {
  const [, title, label] = /^(?:([A-Z][a-z ]+): )?(.*)$/.exec(place)!;
  for (const part of PARTS.filter((p) => title === undefined || p.title === title))
    for (const sentence of part.sentences(draft))
      for (const piece of sentence.pieces) if (typeof piece !== 'string' && piece.label === label) return piece;
  throw new Error(`the page has no word “${place}”`);
}

/** Says something as a person does who reads the page: choices and lists by their texts. */
function say(draft: Draft, label: string, to?: string | number | string[]): Draft {
  const word = wordOf(draft, label);
  const valueOf = (choices: { value: string; text: string }[], text: string): string => {
    const found = choices.find((c) => c.text === text);
    if (!found) throw new Error(`“${label}” has no “${text}”, but ${choices.map((c) => c.text).join(' | ')}`);
    return found.value;
  };
  switch (word.kind) {
    case 'act':
      return word.does();
    case 'number':
      return word.set(to as number);
    case 'choice':
      return word.set(valueOf(word.choices, to as string));
    case 'many':
      return word.set((to as string[]).map((text) => valueOf(word.choices, text)));
    case 'word': {
      const said = word.set(to as string);
      if ('message' in said) throw new Error(said.message);
      return said;
    }
  }
}

/** What no rule says: a board looks at it, or a person sets a score. */
const LEFT_TO_A_PERSON = [15, 21, 73, 74];

it('leaves out no policy of the list but what is left to a person', () => {
  const said = POLICIES.map((p) => parseInt(p.title, 10));
  expect([...said, ...LEFT_TO_A_PERSON].sort((a, b) => a - b)).toEqual(Array.from({ length: 74 }, (_, i) => i + 1));
});

describe('a policy as teachers state it, said in the words of the rules page, comes to its figure:', () => {
  for (const policy of POLICIES)
    it(policy.title, () => {
      const { rules, placed, students, book } = bookOf(policy);
      const now: Draft = {
        ...draftOf(rules, placed, (id) => id),
        class: classOf(
          book,
          placed.map((p) => p.item.id),
        ),
      };
      const draft = policy.say.reduce((d, [label, to]) => say(d, label, to), now);
      const made = assembleBook(proposedBook(book, proposalOf(now, draft)), ASOF, students, book.entries);
      expect(checkBook(made)).toEqual({ ok: true, book: expect.anything() });
      const results = computeBook(made).students;
      policy.gives.forEach((wanted, i) => {
        const { percent, letter, shown } = results[i]!;
        const got = wanted.includes('=') ? `${percent} = ${shown}` : wanted.includes(' ') ? `${percent} ${letter}` : percent; // prettier-ignore
        expect(got).toBe(wanted);
      });
      // It reads without a gap, on paper too.
      for (const part of PARTS)
        for (const sentence of part.sentences(draft)) expect(plainWords(sentence)).toMatch(/^\S.*\.$/);
    });
});
