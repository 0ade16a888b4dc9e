import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Hurdle, Variant } from '../book/document';
import { compileBook } from '../calculation/compiled/compile';
import { workOutStudent } from '../calculation/final';
import { add, divide, equal, fromNumber, HUNDRED, multiply, ZERO, type Fraction } from '../exact/fraction';
import { arbAnyBook, arbBook, smallBook } from '../testing/books';
import { groupOnPaper, itemOnPaper, standingOnPaper } from '../testing/working-reader';
import { explainItem } from './explain-item';
import { explainGroup } from './explain-group';
import { explainStanding } from './explain-standing';
import { sentences } from './sentences';
import { span } from './wording';
import { tries } from '../testing/tries';

const words = { timeZone: 'Europe/Dublin', name: (id: string) => id.toUpperCase() };

describe('the working', () => {
  it('leads to the figure: the children of a group, by their shares, with what extra credit adds', () => {
    fc.assert(
      fc.property(arbBook, (book) => {
        const compiled = compileBook(book);
        const outcome = workOutStudent(compiled, 0);
        for (const group of compiled.groups) {
          const result = outcome.tree.outcomes[group.index]!;
          const steps = explainGroup(outcome, group);
          // Every child of the group is there once.
          const named = steps.filter((s) => 'node' in s).map((s) => (s as { node: string }).node);
          expect([...named].sort()).toEqual(group.children.map((c) => c.id).sort());
          if (result.ratio === null) continue;
          let earned = ZERO;
          let shares = ZERO;
          let extra = ZERO;
          for (const s of steps) {
            if (s.step === 'child') {
              earned = add(earned, multiply(s.percent, s.share));
              shares = add(shares, s.share);
            } else if (s.step === 'extra') extra = add(extra, s.adds);
          }
          const sum = add(divide(earned, shares), extra);
          expect(equal(sum, multiply(result.beforeLimits!, HUNDRED))).toBe(true);
        }
      }),
    );
  });

  it('is enough for a person with paper: every item, group and standing of any book', () => {
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const compiled = compileBook(book);
        book.students.forEach((_, s) => {
          const outcome = workOutStudent(compiled, s);
          const figures = new Map<string, Fraction | null>();
          for (const item of compiled.items) {
            const steps = explainItem(compiled, outcome, item);
            const points = itemOnPaper(steps);
            expect(points).toEqual(outcome.values[item.index]!.earned);
            const counts = points !== null && item.points.n !== 0;
            figures.set(item.id, counts ? multiply(divide(points, item.points), HUNDRED) : null);
          }
          for (const group of [...compiled.groups].reverse())
            figures.set(
              group.id,
              groupOnPaper(explainGroup(outcome, group), (id) => figures.get(id)!),
            );
          const steps = explainStanding(compiled, outcome);
          expect(standingOnPaper(steps, figures.get(compiled.root.id)!)).toBe(outcome.final.rounded);
        });
      }),
      { numRuns: tries(1_000) },
    );
  });

  it('has a sentence for every step of any book', () => {
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const compiled = compileBook(book);
        const outcome = workOutStudent(compiled, 0);
        const lines = [
          ...sentences(explainStanding(compiled, outcome), words),
          ...compiled.items.flatMap((i) => sentences(explainItem(compiled, outcome, i), words)),
        ];
        for (const l of lines) {
          expect(l.label).not.toBe('');
          expect(`${l.label} ${l.detail} ${l.figure}`).not.toMatch(/undefined|NaN|\[object/);
        }
      }),
    );
  });

  it('says what a drop would have cost, hurdles, overrides and the way to the next letter', () => {
    const book = smallBook({
      tree: {
        id: 'all',
        type: 'group',
        combine: 'points',
        drop: { lowest: 1 },
        children: [
          { id: 'a', type: 'item', points: 20 },
          { id: 'b', type: 'item', points: 20 },
        ],
      },
      entries: [
        { student: 's1', item: 'a', attempts: [{ score: 15 }] },
        { student: 's1', item: 'b', attempts: [{ score: 5 }] },
      ],
      hurdles: [{ node: 'a', atLeast: 80, capAt: 49 }],
    });
    const compiled = compileBook(book);
    const lines = sentences(explainStanding(compiled, workOutStudent(compiled, 0)), words);
    expect(lines.map((l) => `${l.label}: ${l.detail}`)).toEqual([
      'A: ',
      'B dropped: ALL drops the lowest; keeping it would cost 25 there',
      'Together: 15 of 20 points',
      'Hurdle: A must reach 80 %; it has 75 %, so the whole is at most 49 %',
      'Rounded: once, at the end: 49 to one decimal, a half goes up',
      'Letter F: from 0 %; 1 short of B',
    ]);
    const overridden = compileBook({ ...book, overrides: [{ student: 's1', percent: 50, reason: 'exam board' }] });
    expect(
      sentences(explainStanding(overridden, workOutStudent(overridden, 0)), words).find((l) => l.label === 'Override'),
    ).toMatchObject({ detail: 'exam board', figure: '50 %' });
    expect(equal(fromNumber(50), workOutStudent(overridden, 0).final.exact!)).toBe(true);
  });

  it('says first by which rules, where a student has a variant of them', () => {
    const said = (variant: Variant, capAt: Hurdle['capAt'] = 50) => {
      const again = { id: 'again', type: 'also' as const, of: 'exam', weight: 0 };
      const book = smallBook({
        tree: {
          ...{ id: 'all', type: 'group', combine: 'weights' },
          children: [again, ...['labs', 'exam'].map((id) => ({ id, type: 'item' as const, points: 20, weight: 50 }))],
        },
        entries: [
          { student: 's1', item: 'labs', attempts: [{ score: 10 }] },
          { student: 's1', item: 'exam', attempts: [{ score: 8 }] },
        ],
        hurdles: [{ node: 'labs', atLeast: 100, capAt }],
        variants: { 'evening class': variant },
        students: [{ id: 's1', variant: 'evening class' }],
      });
      const compiled = compileBook(book);
      return sentences(explainStanding(compiled, workOutStudent(compiled, 0)), words);
    };
    const first = (variant: Variant) => said(variant)[0];
    const label = 'Rules for “evening class”';
    expect(first({})).toEqual({ label, detail: 'as for everybody', figure: '', tone: 'quiet' });
    expect(first({ weights: { exam: 10 } })).toMatchObject({ label, detail: 'with weights of its own' });
    expect(first({ weights: { exam: 10 }, leftOut: ['labs', 'again'], scale: null })).toMatchObject({
      detail: 'with weights of its own; with no letters; without LABS and EXAM, counted again',
    });
    const hurdle = said({}, { node: 'again' }).find((l) => l.label === 'Hurdle')!;
    expect(hurdle.detail).toContain('at most what EXAM, counted again is');
    expect(explainStanding(compileBook(smallBook()), workOutStudent(compileBook(smallBook()), 0))[0]!.step).not.toBe(
      'variant',
    );
  });

  it('says spans as people do', () => {
    expect([60_000, 27 * 3_600_000, 48 * 3_600_000, 90 * 60_000, 1].map(span)).toEqual([
      '1 min',
      '1 day 3 h',
      '2 days',
      '1 h 30 min',
      '1 min',
    ]);
  });
});
