import type { Submission, WhereFinding } from '@contract/work/submissions';
import { aboutFindings, findingWords, repairsOf } from './finding-words';

const file = (name: string, bytes: number, received = bytes): Submission['files'][number] => ({
  ...{ id: name, name, bytes, received, upload: 'u', mediaType: null, odd: null, refused: false },
  sha256: received === bytes ? 'ab' : null,
});
const submission = (more: Partial<Submission> = {}): Submission => ({
  ...{ id: 'w', state: 'handed-in', version: 2, typed: '', link: '', files: [file('a.pdf', 10)], statement: null },
  ...{ receipt: 'LT-ABC-DEF', attempt: 1, begunAt: '2026-11-24T07:00:00Z', handedInAt: '2026-11-24T08:00:00Z' },
  ...more,
});
const finding = (more: Partial<WhereFinding> = {}): WhereFinding => ({
  ...{ book: 'fens', bookTitle: 'Fens', timeZone: 'UTC', assessment: 'moss', title: 'Moss', enrolment: 's1' },
  ...{ manages: true, teaches: true, left: false, kind: 'handed-in', submission: submission() },
  ...{ at: '2026-11-24T08:00:00Z', scored: false, due: null, late: false, open: true, other: null },
  ...more,
});
const broken = {
  kind: 'broke-off',
  submission: submission({ files: [file('a', 100, 25), file('b', 300, 75)] }),
} as const;

describe('what became of a piece of work', () => {
  it('is said in a sentence, of every kind', () => {
    expect(findingWords(finding())).toBe('Handed in 24 Nov 08:00, receipt LT-ABC-DEF: a.pdf. It waits to be marked.');
    expect(findingWords(finding({ late: true, scored: true, other: { bookTitle: 'Bogs', title: 'Peat' } }))).toBe(
      'Handed in 24 Nov 08:00, late, receipt LT-ABC-DEF: a.pdf. It came here from Peat, Bogs. It is marked.',
    );
    expect(findingWords(finding(broken))).toBe(
      'Broke off at 25 % of a, b, last heard of 24 Nov 08:00. Nothing is handed in.',
    );
    expect(findingWords(finding({ ...broken, kind: 'coming' }))).toContain('Comes in at this moment: 25 % of a, b.');
    expect(findingWords(finding({ kind: 'moved', other: { bookTitle: 'Bogs', title: 'Peat' } }))).toBe(
      'Handed in here 24 Nov 08:00 and moved to Peat, Bogs.',
    );
    const without = { submission: null, at: null } as const;
    expect(findingWords(finding({ ...without, kind: 'nothing' }))).toBe('Nothing came. It can still be handed in.');
    expect(findingWords(finding({ ...without, kind: 'nothing', open: false }))).toContain(
      'cannot be handed in any more',
    );
    expect(findingWords(finding({ ...without, kind: 'recorded', scored: true }))).toBe(
      'Recorded by hand: nothing was handed in here. It is marked.',
    );
    const hidden = finding({ ...without, kind: 'hidden' });
    expect([findingWords(hidden), repairsOf(hidden)]).toEqual([expect.stringContaining('Hidden until names are shown'), []]); // prettier-ignore
    for (const kind of ['begun', 'taken-back', 'excused', 'elsewhere'] as const)
      expect(findingWords(finding({ kind }))).toMatch(/\.$/);
  });

  it('can be mended by those who may, in the way that fits', () => {
    expect(repairsOf(finding())).toEqual(['move', 'look']);
    // What is scored is not moved until that is ended.
    expect(repairsOf(finding({ scored: true }))).toEqual(['look']);
    expect(repairsOf(finding({ ...broken, open: false }))).toEqual(['accept', 'open-again', 'look']);
    expect(repairsOf(finding({ ...broken, open: false, teaches: false }))).toEqual(['accept', 'look']);
    expect(repairsOf(finding({ kind: 'nothing', submission: null, open: false }))).toEqual(['open-again', 'look']);
    expect(repairsOf(finding({ kind: 'nothing', submission: null, open: false, left: true }))).toEqual(['look']);
    expect(repairsOf(finding({ ...broken, manages: false, teaches: false }))).toEqual(['look']);
  });

  it('is summed up, and said where there is nothing', () => {
    expect(aboutFindings([])).toBe('No work in your books.');
    expect(aboutFindings([finding(), finding(broken)])).toBe(
      '1 piece handed in, 1 piece begun and not handed in, 1 book looked through',
    );
  });
});
