import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkBook } from '../../book/checks/check';
import type { AttemptsRule, BookDocument } from '../../book/document';
import { computeBook } from '../result';

const bookOf = (attempts: unknown, scores: readonly number[]): BookDocument => ({
  format: 'last-tally.book/1',
  timeZone: 'Europe/Dublin',
  asOf: '2027-02-01T12:00:00Z',
  rules: { blank: { usual: { beforeDue: 'skip', afterDue: 'skip' } } },
  blank: 'usual',
  rounding: { decimals: 1, mode: 'half-up' },
  tree: {
    ...{ id: 'all', type: 'group', combine: 'points' },
    children: [{ id: 'a', type: 'item', points: 20, attempts: attempts as AttemptsRule }],
  },
  students: [{ id: 's' }],
  entries: scores.length === 0 ? [] : [{ student: 's', item: 'a', attempts: scores.map((score) => ({ score })) }],
});

const earned = (attempts: AttemptsRule, scores: readonly number[]): string | null =>
  computeBook(bookOf(attempts, scores)).students[0]!.items[0]!.earned;

const arbScores = fc.array(
  fc.integer({ min: 0, max: 100 }).map((n) => n / 4),
  { minLength: 1, maxLength: 6 },
);

describe('several attempts', () => {
  it.each([
    [{ use: 'decaying', newest: 60 }, [10, 15, 12], '62/5'],
    [{ use: 'decaying', newest: 33.3333 }, [3, 9], '2499999/500000'],
    [{ use: 'regain', regain: 50 }, [10, 14, 18], '14'],
    [{ use: 'regain', regain: 50 }, [13, 9], '13'],
    [{ use: 'latest', retakeCap: [90, 80] }, [20, 20], '18'],
    [{ use: 'latest', retakeCap: [90, 80] }, [20, 20, 20, 20], '16'],
    [{ use: 'regain', regain: 50, retakeCap: [60] }, [10, 20], '11'],
  ] as const)('by %j of %j make %s', (rule, scores, value) => {
    expect(earned(structuredClone(rule) as unknown as AttemptsRule, scores)).toBe(value);
  });

  it('are the latest where the newest makes all, the first where nothing is won back, the best of all where all is', () => {
    fc.assert(
      fc.property(arbScores, (scores) => {
        expect(earned({ use: 'decaying', newest: 100 }, scores)).toBe(earned({ use: 'latest' }, scores));
        expect(earned({ use: 'regain', regain: 0 }, scores)).toBe(earned({ use: 'first' }, scores));
        expect(earned({ use: 'regain', regain: 100 }, scores)).toBe(earned({ use: 'best' }, scores));
      }),
    );
  });

  it('lie between the least and the best of them, and win back never less by doing better', () => {
    const number = (text: string | null): number => {
      const [n, d = '1'] = text!.split('/');
      return Number(n) / Number(d);
    };
    const percent = fc.integer({ min: 1, max: 100 });
    fc.assert(
      fc.property(arbScores, percent, fc.nat(), (scores, p, which) => {
        for (const rule of [
          { use: 'decaying', newest: p },
          { use: 'regain', regain: p },
        ] as const) {
          const value = number(earned(rule, scores));
          expect(value).toBeGreaterThanOrEqual(Math.min(...scores) - 1e-9);
          expect(value).toBeLessThanOrEqual(Math.max(...scores) + 1e-9);
          const better = scores.map((s, i) => (i === which % scores.length ? s + 1 : s));
          expect(number(earned(rule, better))).toBeGreaterThanOrEqual(value - 1e-9);
        }
      }),
    );
  });

  it.each([
    [{ use: 'decaying' }, ['']],
    [{ use: 'regain' }, ['']],
    [{ use: 'decaying', newest: 0 }, ['/newest']],
    [{ use: 'decaying', newest: 100.5 }, ['/newest']],
    [{ use: 'regain', regain: 101 }, ['/regain']],
    [{ use: 'regain', regain: -1 }, ['/regain']],
    [{ use: 'best', newest: 50, retakeCap: [] }, ['/newest', '/retakeCap']],
    [{ newest: 50, regain: 50 }, ['/newest', '/regain']],
    [{ use: 'decaying', newest: 50, regain: 50 }, ['/regain']],
    [
      { use: 'newest', retakeCap: [80, 'half', -1, 66.66667] },
      ['/retakeCap/1', '/retakeCap/2', '/retakeCap/3', '/use'],
    ],
    [{ retakeCap: '80' }, ['/retakeCap']],
  ])('%j are refused, pointing at it', (attempts, pointers) => {
    const checked = checkBook(bookOf(attempts, [5]));
    const at = checked.ok ? [] : checked.problems.map((p) => p.at);
    expect(at.sort()).toEqual(pointers.map((p) => `/tree/children/0/attempts${p}`));
  });
});
