import type { JournalCell, JournalKind, JournalSet } from '@contract/history';
import { contentWords, lineWords, type Names } from './journal-words';
import { setWords } from './set-words';

const names: Names = {
  zone: 'Europe/Dublin',
  student: () => 'Adler, Ada',
  assessment: () => 'Moss',
  note: (id) => (id === 'n-1' ? 'Smudged page.' : undefined),
  section: (id) => (id === 'n' ? 'North' : undefined),
};
const line = (kind: JournalKind, was: object | null, becomes: object | null): JournalCell => ({
  seq: 1,
  kind,
  assessment: 'moss',
  enrolment: 's1',
  was: was === null ? null : JSON.stringify(was),
  becomes: becomes === null ? null : JSON.stringify(becomes),
});
const set = (kind: JournalKind, lines: number, more: Partial<JournalSet> = {}): JournalSet => ({
  batch: 'b',
  first: 1,
  last: lines,
  at: '2026-11-24T09:00:00Z',
  by: 'S. Teacher',
  kind,
  set: null,
  title: '',
  reason: '',
  lines,
  students: lines,
  shown: [line(kind, {}, { state: 'excused' })],
  undone: false,
  undoable: true,
  ...more,
});

describe('the journal in words', () => {
  it('says what a cell holds and what stands beside its score', () => {
    expect(contentWords('{}', names.zone)).toBe('nothing');
    expect(contentWords(null, names.zone)).toBe('nothing');
    expect(contentWords('{"attempts":[{"score":17,"lateUnits":2}]}', names.zone)).toBe('17 (2 late)');
    expect(contentWords('{"dueAt":"2026-11-27T17:00:00Z"}', names.zone)).toBe('due 27 Nov 17:00');
    expect(contentWords('{"attempts":[{"score":9},{"score":11,"onTime":true}],"protected":true}', names.zone)).toBe(
      '11 (attempt 2, lateness waived, protected)',
    );
    expect(contentWords('{"attempts":[{"receivedAt":"2026-11-12T16:00:00Z"}]}', names.zone)).toBe(
      'to mark (in 12 Nov 16:00)',
    );
  });

  it.each([
    [line('cell', {}, { attempts: [{ score: 4 }] }), 'nothing', '4'],
    [line('release', null, { state: 'excused' }), 'not released', 'excused'],
    [line('withdraw', { attempts: [{ score: 4 }] }, null), '4', 'hidden'],
    [line('note', {}, { note: 'n-1', flag: 'p-1' }), 'nothing', '“Smudged page.”, second look'],
    [line('note', { note: 'n-gone' }, {}), '“a note whose text was removed”', 'nothing'],
    [line('settings', { showsStanding: false }, { showsStanding: true }), 'standing not shown', 'standing shown'],
    [line('group', null, { title: 'Boats', members: ['a', 'b'] }), 'no such group', 'Boats, 2 students'],
    [line('rules', {}, {}), '', ''],
    [line('settings', { archived: false }, { archived: true }), 'in use', 'put away'],
    [{ ...line('cell', null, null), enrolment: null, hidden: true as const }, '', 'hidden until shown'],
    [line('settings', { hidesNames: null }, { hidesNames: true }), 'names hidden as the school says', 'work marked without names'], // prettier-ignore
    [line('assessment', { work: { namesHidden: true } }, { work: { namesHidden: true, namesShown: true } }), '', 'names shown'], // prettier-ignore
    [line('assessment', { work: {} }, { work: { namesHidden: true, attempts: 2 } }), 'marked by name, handed in otherwise', 'marked without names, handed in otherwise'], // prettier-ignore
    [
      line('assessment', { points: 20, due: null }, { points: 25, due: '2026-11-27T17:00:00Z' }),
      'out of 20, due none',
      'out of 25, due 27 Nov 17:00',
    ],
    [line('order', ['a', 'b'], ['b', 'a']), '2 in this order', '2 in this order'],
    [line('override', {}, { percent: 71.5 }), 'as worked out', '71.5 %'],
    [line('override', { letter: 'B' }, {}), 'B', 'as worked out'],
    [line('enrol', { section: 'n', left: false }, { section: 's', left: false }), 'North', 's'],
    [line('enrol', { section: 'n', left: false }, { section: 'n', left: true }), 'in the book', 'out of the book'],
    [
      line('enrol', { extraTimeHours: 0, left: false }, { extraTimeHours: 24, left: false }),
      '0 hours more',
      '24 hours more',
    ],
    [
      line('staff', { login: 'quigg', role: null }, { login: 'quigg', role: 'marker' }),
      'quigg: not of this book',
      'quigg: marker',
    ],
  ])('tells a line', (l, was, becomes) => expect(lineWords(l, names)).toEqual({ was, becomes }));

  it.each([
    [set('cell', 1), 'Adler, Ada, Moss'],
    [set('cell', 12, { set: 'paste' }), '12 cells pasted'],
    [set('cell', 1, { set: 'intake', title: 'pond.csv' }), '1 cell brought in: pond.csv'],
    [set('cell', 3, { set: 'undo' }), '3 cells put back by undo'],
    [set('note', 1, { set: 'redo' }), 'A staff note made again'],
    [set('rules', 1, { set: 'restore' }), 'The rules changed put back from the journal'],
    [set('release', 21), 'Moss released to 21 students'],
    [set('withdraw', 1), 'Moss withdrawn from one student'],
    [set('enrol', 2, { shown: [line('enrol', null, { section: 'n' })] }), '2 students enrolled'],
    [
      set('enrol', 2, { shown: [line('enrol', { section: 'n' }, { section: 's' })] }),
      '2 students moved, or given extra time',
    ],
    [set('assessment', 1, { shown: [line('assessment', null, { points: 20 })] }), 'Moss was made'],
    [set('assessment', 1, { shown: [line('assessment', { points: 20 }, { points: 25 })] }), 'Moss was changed'],
    [set('assessment', 1, { shown: [line('assessment', { points: 20 }, null)] }), 'Moss was deleted'],
    [set('order', 1), 'The assessments in another order'],
    [set('override', 1), 'Final grade of Adler, Ada set by hand'],
    [set('cell', 4, { set: 'exception', title: 'excused' }), 'Exception, excused: 4 cells'],
    [set('cell', 1, { set: 'exception', title: 'ended' }), 'Exception ended: 1 cell'],
    [set('note', 1), 'Staff note: Adler, Ada, Moss'],
  ])('tells a set', (s, message) => expect(setWords(s, names)).toBe(message));
});
