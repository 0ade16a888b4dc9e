import { describe, expect, it } from 'vitest';
import { firstRules } from '@core/book/first-rules';
import { draftOf, type Draft } from '../../draft';
import { CURVES } from './curves';
import { LETTERS } from '../letters/letters';
import { bandsOf, moveBand, scaleOf } from '../letters/scales';
import { plainWords, type Part, type Piece, type Sentence } from '../sentence';

const bands = ['A', 'B', 'F'].map((label, i) => ({ label, from: [80, 60, 0][i]! }));
const first = firstRules([{ id: 'essays', title: 'Essays', weight: 100 }]);
const rules = { ...first, rules: { ...first.rules, scales: { letters: { bands } } }, scale: 'letters' };
const item = { id: 'essay', type: 'item' as const, points: 100 };

const draftWith = (marked: number[]): Draft => ({
  ...draftOf(rules, [{ category: 'essays', item }], () => 'Essay'),
  class: { marked: new Map([['essay', marked]]), percents: { rounded: marked, exact: marked } },
});
const withClass = (draft: Draft, marked: number[]): Draft => ({ ...draft, class: draftWith(marked).class! });
const words = (draft: Draft, part: Part): string[] => part.sentences(draft).map(plainWords);
const pieceOf = (draft: Draft, part: Part, label: string): Exclude<Piece, string> =>
  part
    .sentences(draft)
    .flatMap((s: Sentence) => s.pieces)
    .find((p): p is Exclude<Piece, string> => typeof p !== 'string' && p.label === label)!;
const choose = (draft: Draft, part: Part, label: string, value: string): Draft => {
  const piece = pieceOf(draft, part, label);
  if (piece?.kind !== 'choice') throw new Error(label);
  return piece.set(value);
};
const set = (draft: Draft, part: Part, label: string, value: number): Draft => {
  const piece = pieceOf(draft, part, label);
  if (piece?.kind !== 'number') throw new Error(label);
  return piece.set(value);
};
const act = (draft: Draft, part: Part, label: string): Draft => {
  const piece = pieceOf(draft, part, label);
  if (piece?.kind !== 'act') throw new Error(label);
  return piece.does();
};
const curveOf = (draft: Draft) => draft.items[0]!.settings.curve;

describe('a curve that is worked out from the class', () => {
  it('says what it is for and what it came to, and when the class has moved since', () => {
    const is = set(choose(draftWith([60, 73]), CURVES, 'Curve of Essay', 'mean'), CURVES, 'Mean of Essay', 75);
    expect(words(is, CURVES)).toEqual(['Essay moves to a mean of 75 points: 8.5 points more for everybody.']);
    const moved = withClass(is, [60, 73, 80]);
    expect(words(moved, CURVES)[1]).toBe('Essay’s class has moved since: its mean is now 79.5.');
    const again = act(moved, CURVES, 'Move Essay again');
    expect(words(again, CURVES)).toEqual(['Essay moves to a mean of 75 points: 4 points more for everybody.']);
    expect(curveOf(again)).toEqual({ kind: 'add', points: 4, info: { tool: 'mean', mean: 75 } });
  });

  it('moves to a mean and a deviation along a line that is said', () => {
    const begun = choose(draftWith([33, 63]), CURVES, 'Curve of Essay', 'spread');
    const is = set(begun, CURVES, 'Mean of Essay', 60);
    expect(words(is, CURVES)).toEqual([
      'Essay moves to a mean and a standard deviation of 60 and 15 points: 0 → 12, 100 → 112.',
    ]);
    expect(words(withClass(is, [33, 63, 63]), CURVES)[1]).toMatch(
      /^Essay’s class has moved since: its mean is now 65, its standard deviation 14\.14\.$/,
    );
  });

  it('is offered where it can be worked out, and read where it cannot', () => {
    const kinds = (draft: Draft): string[] => {
      const piece = pieceOf(draft, CURVES, 'Curve of Essay');
      return piece.kind === 'choice' ? piece.choices.map((c) => c.value) : [];
    };
    expect(kinds(draftWith([50, 50]))).toEqual(['none', 'add', 'less', 'top', 'line', 'mean', 'root']);
    expect(kinds(draftWith([]))).toEqual(['none', 'add', 'less', 'top', 'line', 'root']);
    const is = choose(draftWith([60, 73]), CURVES, 'Curve of Essay', 'mean');
    expect(words(withClass(is, []), CURVES)).toEqual(words(is, CURVES));
    expect(pieceOf(withClass(is, []), CURVES, 'Mean of Essay')).toBeUndefined();
  });

  it('is an ordinary one once it is chosen by hand', () => {
    const is = choose(draftWith([60, 73]), CURVES, 'Curve of Essay', 'root');
    expect(words(is, CURVES)).toEqual(['Essay counts ten times the square root of its percentage.']);
    expect(curveOf(choose(is, CURVES, 'Curve of Essay', 'add'))).toEqual({ kind: 'add', points: 1 });
  });
});

describe('letters by shares of the class', () => {
  const class10 = [50, 53, 56, 59, 62, 65, 68, 71, 74, 77];
  const typed = draftWith(class10);
  const found = choose(typed, LETTERS, 'How it is found where letters begin', 'shares');

  it('begin with the shares that there are, and are found anew by every other', () => {
    expect(words(found, LETTERS)).toContain(
      'Letters begin where the class is so shared out that 0 % of the class have A, then 60 % have B, and all others F.',
    );
    const is = set(found, LETTERS, 'Share of the class with A', 10);
    expect(bandsOf(is).map((b) => b.from)).toEqual([77, 59, 0]);
    expect(scaleOf(is)!.info).toEqual({ tool: 'shares', shares: [10, 60] });
  });

  it('say when the class has moved since, and are found again by a word', () => {
    const is = withClass(set(found, LETTERS, 'Share of the class with A', 10), [...class10.slice(0, -1), 90]);
    expect(words(is, LETTERS).at(-1)).toBe('The class has moved since: A would begin at 90 %.');
    const again = act(is, LETTERS, 'Find again where letters begin');
    expect(bandsOf(again)[0]!.from).toBe(90);
    expect(words(again, LETTERS).at(-1)).toMatch(/^Letters begin where the class/);
  });

  it('are typed ones as soon as one is moved by hand', () => {
    expect(scaleOf(moveBand(found, 'B', 61))!.info).toBeUndefined();
    const back = choose(found, LETTERS, 'How it is found where letters begin', 'typed');
    expect(scaleOf(back)!.info).toBeUndefined();
    expect(words(draftWith([]), LETTERS).join(' ')).not.toContain('shared out');
  });
});
