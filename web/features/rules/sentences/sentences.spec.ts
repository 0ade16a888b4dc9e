import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { rulesOf } from '@core/book/assemble';
import { canonical } from '@core/book/canonical';
import { checkBook } from '@core/book/checks/check';
import { computeBook } from '@core/calculation/result';
import type { BookDocument, Group } from '@core/book/document';
import { placedItems, proposedBook } from '@core/proposal/proposal';
import { draftOf, groupsDeep, isSame, proposalOf, titleOf, type Draft } from '../draft';
import { PARTS } from '.';
import { plainWords, type Piece, type Sentence } from './sentence';
import { touchedWords } from '../words/touched';
import { otherWords, sentencesOf, wordsOf as pageWords } from '../words/words';
import { emptyColumns } from '../../../worker/columns';
import { FLAG } from '../../../worker/protocol';

const EXAMPLES = join(process.cwd(), 'core/testing/examples');
const bookIn = (file: string): BookDocument => JSON.parse(readFileSync(join(EXAMPLES, file), 'utf8')) as BookDocument;
const BOOKS = readdirSync(EXAMPLES)
  .filter((f) => f.endsWith('.book.json') && !f.includes('refused'))
  .map(bookIn);
const extra = bookIn('11-extra-credit.book.json');
const draftIn = (book: BookDocument): Draft => draftOf(rulesOf(book), placedItems(book), (id) => `Work ${id}`);

interface Word {
  part: string;
  sentence: Sentence;
  piece: Exclude<Piece, string>;
}
const wordsOf = (draft: Draft): Word[] =>
  PARTS.flatMap((part) =>
    part
      .sentences(draft)
      .flatMap((sentence) =>
        sentence.pieces.flatMap((piece) => (typeof piece === 'string' ? [] : [{ part: part.id, sentence, piece }])),
      ),
  );

/** The draft with a word set to something else; null where it has nothing else to be. */
function setOtherwise({ piece }: Word): { draft: Draft; to: string } | null {
  switch (piece.kind) {
    case 'number': {
      const to = piece.value + 1 <= (piece.most ?? Infinity) ? piece.value + 1 : piece.value - 1;
      return { draft: piece.set(to), to: String(to) };
    }
    case 'choice': {
      const to = piece.choices.find((c) => c.value !== piece.value && !/^\*|^various$|^$/.test(c.value));
      return to ? { draft: piece.set(to.value), to: to.value } : null;
    }
    case 'many': {
      const first = piece.choices[0];
      if (!first) return null;
      const to = piece.value.includes(first.value) ? [] : [first.value];
      return { draft: piece.set(to), to: String(to) };
    }
    case 'word': {
      const to = piece.label.startsWith('Dates') ? '24 Dec 2026' : 'Another';
      const next = piece.set(to);
      return 'message' in next ? null : { draft: next, to };
    }
    case 'act':
      return { draft: piece.does(), to: '' };
  }
}

describe('the sentences of every part', () => {
  it('say every worked example without a gap, in words that are each told apart', () => {
    for (const draft of BOOKS.map(draftIn))
      for (const part of PARTS) {
        const sentences = part.sentences(draft);
        expect(sentences.length).toBeGreaterThan(0);
        expect(new Set(sentences.map((s) => s.id)).size).toBe(sentences.length);
        for (const s of sentences) {
          expect(plainWords(s)).toMatch(/^\S.*\.$/);
          expect(plainWords(s)).not.toMatch(/undefined|NaN|null|\[object|\s\s| [.,;]/);
          const labels = s.pieces.flatMap((p) => (typeof p === 'string' ? [] : [p.label]));
          expect(new Set(labels).size).toBe(labels.length);
        }
      }
  });

  it('have words that each change what they say, and nothing of the draft they are given', () => {
    for (const [n, book] of BOOKS.entries()) {
      const draft = draftIn(book);
      const before = canonical(draft);
      for (const word of wordsOf(draft)) {
        const set = setOtherwise(word);
        if (!set) continue;
        const where = `book ${n}, ${word.part}: ${word.piece.label} to ${set.to}`;
        expect(canonical(draft), where).toBe(before);
        expect(isSame(draft, set.draft), where).toBe(false);
        // Some words are gone once they are set (a lowest of 0 drops nothing); where they are there, they say it.
        const again = wordsOf(set.draft).find((w) => w.part === word.part && w.piece.label === word.piece.label);
        // A list that only leads on ("choose it") stays where it was.
        if (again && again.piece.kind !== 'act' && word.piece.kind !== 'word' && again.piece.value !== '')
          expect(String(again.piece.value), where).toBe(set.to);
      }
    }
  });

  it('make nothing that the core cannot take or say what is wrong with', () => {
    for (const book of BOOKS) {
      const draft = draftIn(book);
      let sound = 0;
      const words = wordsOf(draft);
      for (const word of words) {
        const set = setOtherwise(word);
        if (!set) continue;
        const made = proposedBook(book, proposalOf(draft, set.draft));
        const checked = checkBook({ ...made, entries: [], overrides: [] });
        if (checked.ok) sound++;
        else expect(checked.problems[0]!.says).not.toBe('');
      }
      expect(sound).toBeGreaterThan(words.length * 0.8);
    }
  });

  it('lead back to the same figures when a number is set back', () => {
    for (const book of BOOKS) {
      const draft = draftIn(book);
      // As the rows of a book stand: assessments after the categories beside them.
      const results = canonical(computeBook(proposedBook(book, proposalOf(draft, draft))));
      for (const word of wordsOf(draft)) {
        const { piece } = word;
        if (piece.kind !== 'number') continue;
        const other = setOtherwise(word)!.draft;
        const again = wordsOf(other).find((w) => w.part === word.part && w.piece.label === piece.label)?.piece;
        if (again?.kind !== 'number') continue;
        const back = proposedBook(book, proposalOf(draft, again.set(piece.value)));
        expect(canonical(computeBook(back)), piece.label).toBe(results);
      }
    }
  });
});

describe('a category', () => {
  const first = draftIn(bookIn('01-weighted-categories.book.json'));
  const act = (draft: Draft, label: string): Draft => {
    const { piece } = wordsOf(draft).find((w) => w.piece.label === label)!;
    if (piece.kind !== 'act') throw new Error(`${label} does nothing`);
    return piece.does();
  };
  const choose = (draft: Draft, label: string, text: string): Draft => {
    const { piece } = wordsOf(draft).find((w) => w.piece.label === label)!;
    if (piece.kind !== 'choice') throw new Error(`${label} is no choice`);
    return piece.set(piece.choices.find((c) => c.text === text)!.value);
  };
  const placesOf = (draft: Draft, title: string): string[] => {
    const { piece } = wordsOf(draft).find((w) => w.piece.label === `What ${title} is a part of`)!;
    return piece.kind === 'choice' ? piece.choices.map((c) => c.text) : [];
  };
  const isSound = (draft: Draft): boolean => {
    const made = proposedBook(bookIn('01-weighted-categories.book.json'), proposalOf(first, draft));
    return checkBook({ ...made, entries: [], overrides: [] }).ok;
  };

  it('says what it is a part of once there is something to choose, and goes there with all its work', () => {
    expect(wordsOf(first).some((w) => w.piece.label.endsWith('is a part of'))).toBe(false);
    const [a, b] = first.rules.tree.children.map((c) => titleOf(first, c as Group)) as [string, string];
    let draft = act(first, 'A new category in the whole');
    expect(placesOf(draft, a)).toEqual(expect.arrayContaining(['the whole', b, 'New category']));
    // Never in itself, nor in what is in it.
    expect(placesOf(draft, a)).not.toContain(a);
    draft = choose(draft, `What ${a} is a part of`, 'New category');
    expect(placesOf(draft, 'New category')).not.toContain(a);
    expect(isSound(draft)).toBe(true);
    const parent = groupsDeep(draft.rules.tree).find((p) => titleOf(draft, p.group) === a)!.parent!;
    expect(titleOf(draft, parent)).toBe('New category');
    // And back: the empty one is taken out again.
    draft = act(choose(draft, `What ${a} is a part of`, 'the whole'), 'Take New category out');
    expect(groupsDeep(draft.rules.tree)).toHaveLength(groupsDeep(first.rules.tree).length);
    expect(isSound(draft)).toBe(true);
  });

  it('is not on trial where it is only said what it is a part of', () => {
    const [a] = first.rules.tree.children.map((c) => titleOf(first, c as Group)) as [string];
    const label = `What ${a} is a part of`;
    const triedIn = (draft: Draft): string[] => {
      const [now, tried] = [sentencesOf(first), sentencesOf(draft)];
      return [...otherWords(tried, pageWords(now), pageWords(tried)).values()].flatMap((labels) => [...labels]);
    };
    const more = act(first, 'A new category in the whole');
    expect(triedIn(more).filter((l) => l.endsWith('New category is a part of') || l === label)).toEqual([]);
    expect(triedIn(choose(more, label, 'New category'))).toContain(label);
  });

  it('is taken out with what counts again in it, and the hurdles over that', () => {
    const [a] = first.rules.tree.children.map((c) => titleOf(first, c as Group)) as [string];
    let draft = act(act(first, 'A new category in the whole'), 'Count something again');
    draft = choose(draft, 'What counts again', a);
    draft = choose(draft, 'Where it counts again', 'New category');
    draft = act(draft, 'A hurdle more');
    draft = choose(draft, 'What hurdle 1 is in', `${a}, counted again in New category`);
    expect(isSound(draft)).toBe(true);
    draft = act(draft, 'Take New category out');
    expect(draft.rules.hurdles ?? []).toEqual([]);
    expect(isSound(draft)).toBe(true);
  });

  it('that holds the place where something counts is counted beside itself', () => {
    const [a, b] = first.rules.tree.children.map((c) => titleOf(first, c as Group)) as [string, string];
    let draft = choose(act(first, 'Count something again'), 'What counts again', a);
    draft = choose(draft, 'Where it counts again', b);
    draft = choose(draft, 'What counts again', b);
    expect(wordsOf(draft).find((w) => w.piece.label === 'Where it counts again')!.piece).toMatchObject({
      value: draft.rules.tree.id,
    });
    expect(isSound(draft)).toBe(true);
  });
});

describe('what a sentence touches', () => {
  const draft = draftIn(extra);
  const size = draft.items.length;
  const cells = emptyColumns(2 * size);
  const group = {
    cells,
    students: ['s1', 's2'],
    itemIndex: new Map(draft.items.map((i, n) => [i.id, n])),
    name: (id: string) => (id === 's1' ? 'Adler' : 'Birch'),
    letters: ['A', null],
  };
  const at = draft.items.findIndex((i) => i.category !== draft.rules.tree.id);
  const first = draft.items[at]!;
  const on = (touches: string[], id = 'one'): Sentence => ({ id, pieces: ['.'], touches });

  it('is said in assessments, their categories, and the students who feel it now', () => {
    cells.taken[size + at] = 2;
    expect(touchedWords('lateness', on([first.id]), draft, group)).toEqual([
      expect.stringMatching(new RegExp(`^Touches 1 of ${size} assessments, in .+: ${first.title}\\.$`)),
      '1 student loses points by it: Birch.',
    ]);
    cells.flags[0] = FLAG.dropped;
    expect(touchedWords('drops', on(draft.items.map((i) => i.id)), draft, group)).toEqual([
      `Touches all ${size} assessments.`,
      '1 student has something dropped there: Adler.',
    ]);
    expect(touchedWords('blanks', on([first.id]), draft, group)[1]).toBe('All 2 students have a blank there.');
    expect(touchedWords('curves', on([first.id]), draft, group)[1]).toBe('No student has something that counts there.');
    expect(touchedWords('curves', on([]), draft, group)).toEqual(['Touches no assessment.']);
    expect(touchedWords('curves', on([first.id]), draft, null)).toHaveLength(1);
  });

  it('is said of a letter in those who have it', () => {
    const letter: Sentence = { id: 'band A', pieces: ['.'] };
    expect(touchedWords('letters', letter, draft, group)).toEqual(['1 student has A: Adler.']);
  });
});
