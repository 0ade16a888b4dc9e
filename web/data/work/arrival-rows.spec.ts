import type { Arrivals, Submission } from '@contract/work/submissions';
import { brokenShare, partWords, rowState, withOpened } from './arrival-rows';

const NOW = '2026-11-24T09:00:00Z';
const file = (name: string, bytes: number, received = bytes): Submission['files'][number] => ({
  ...{ id: name, name, bytes, received, upload: 'u', mediaType: null, odd: null, refused: false },
  sha256: received === bytes ? 'ab' : null,
});
const submission = (more: Partial<Submission> = {}): Submission => ({
  ...{ id: 'w', state: 'handed-in', version: 2, typed: '', link: '', files: [file('a.pdf', 10)], statement: null },
  ...{ receipt: 'LT-ABC-DEF', attempt: 1, begunAt: '2026-11-24T07:00:00Z', handedInAt: '2026-11-24T08:00:00Z' },
  ...more,
});
const student = (submissions: Submission[], late = ''): Arrivals['students'][number] => ({
  ...{ enrolment: 's', due: NOW, open: true, openAgain: null, openedBy: [], submissions, late },
});
const cell = (state: string, text = '', released = false, again = false) => ({
  ...{ state, text, released, again, taken: '', look: `look-${state}`, words: '' },
});
const of = (submissions: Submission[], c = cell('blank'), late = ''): string => {
  const { state, kind } = rowState(student(submissions, late), c, NOW);
  return `${kind}: ${state}`;
};

describe('what a row of the list says', () => {
  it('is what is true of the student, in the words of the states', () => {
    const begun = submission({ state: 'begun', receipt: null, attempt: null, handedInAt: null });
    const half = { ...begun, files: [file('a.jpg', 1_000, 400)] };
    expect(of([])).toBe('nothing yet: nothing yet');
    expect(of([], cell('blank', 'due 27 Nov'))).toBe('nothing yet: due 27 Nov');
    expect(of([], cell('missing', 'missing'))).toBe('missing: missing');
    expect(of([begun])).toBe('begun: begun, not handed in');
    // Begun two hours ago, and not all there.
    expect(of([half])).toBe('broke off: broke off at 40 %');
    expect(of([{ ...half, begunAt: '2026-11-24T08:55:00Z' }])).toBe('begun: begun, not handed in');
    expect(of([submission()], cell('pending', 'to mark'))).toBe('to mark: to mark');
    expect(of([submission()], cell('pending', 'to mark'), '− 2')).toBe('to mark: − 2 to mark');
    expect(of([submission({ state: 'taken-back' })])).toBe('nothing yet: taken back');
    expect(of([submission()], cell('scored', '17.0'))).toBe('draft: 17.0');
    expect(of([submission()], cell('scored', '17.0', true))).toBe('released: 17.0');
    expect(of([submission()], cell('scored', '17.0', true, true))).toBe('to mark: 17.0 again');
    expect(of([], cell('excused', 'excused'))).toBe('excused: excused');
    // Typed as come in, with nothing handed in here.
    expect(of([], cell('pending', 'to mark'))).toBe('to mark: to mark');
  });

  it('names what was handed in last, shortly', () => {
    const three = submission({ files: [file('a.pdf', 1), file('b.pdf', 1)], typed: 'words' });
    expect(partWords(three)).toBe('a.pdf and 2 more');
    expect(partWords(submission({ link: 'https://example.org' }))).toBe('a.pdf, link');
    expect(rowState(student([submission(), three]), cell('pending'), NOW).parts).toBe('a.pdf and 2 more, 2 attempts');
    expect(brokenShare(submission({ files: [file('a', 100, 25), file('b', 300, 75), file('c', 9)] }))).toBe(25);
    expect(brokenShare(submission())).toBeNull();
  });
});

describe('who opened a work', () => {
  const list = (...openedBy: { by: string; through: boolean }[]): Arrivals => ({
    ...{ asOf: NOW, presence: false },
    students: [{ ...student([submission({ id: 'first' }), submission({ id: 'last' })]), openedBy }],
  });
  const told = (was: Arrivals, work: string, through: boolean, enrolment = 's') =>
    withOpened(was, { enrolment, work, by: 'A. Reed', through }).students[0]!.openedBy;

  it('is noted once, and stays one who looked it through', () => {
    expect(told(list(), 'last', false)).toEqual([{ by: 'A. Reed', through: false }]);
    expect(told(list({ by: 'A. Reed', through: false }), 'last', true)).toEqual([{ by: 'A. Reed', through: true }]);
    expect(told(list({ by: 'A. Reed', through: true }), 'last', false)).toEqual([{ by: 'A. Reed', through: true }]);
    expect(told(list({ by: 'you', through: true }), 'last', false)).toHaveLength(2);
  });

  it('is about what was handed in last, of that student alone', () => {
    expect(told(list(), 'first', true)).toEqual([]);
    expect(told(list(), 'last', true, 'another')).toEqual([]);
  });
});
