import { readDay } from '../../../ui/text/read-day';
import { withWord, offered, readSlash } from './slash-words';

const here = { timeZone: 'Europe/Dublin', asOf: '2026-11-24T09:00:00Z', due: '2026-11-12T17:00:00Z', hasWork: true, points: 20, marks: ['pass', 'fail'], readDay }; // prettier-ignore

describe('slash words', () => {
  it.each([
    ['/late 2', { kind: 'late', units: 2 }],
    ['/l 0', { kind: 'late', units: 0 }],
    ['/late 13 Nov 20:00', { kind: 'late-at', receivedAt: '2026-11-13T20:00:00.000Z' }],
    ['/due 27 Nov', { kind: 'due', dueAt: '2026-11-27T17:00:00.000Z' }],
    ['/due', { kind: 'due', dueAt: null }],
    ['/on', { kind: 'on-time', waived: true }],
    ['/came', { kind: 'received', at: here.asOf }],
  ])('%s', (text, change) => expect(readSlash(text, here)).toEqual({ kind: 'change', change }));

  it.each(['/nonsense', '/late soon', '/due never', '/'])('%s is refused with a sentence', (text) => {
    const read = readSlash(text, here);
    expect(read.kind).toBe('refused');
    expect(read.kind === 'refused' && read.message.length).toBeGreaterThan(20);
  });

  it('says of a day that it cannot be read yet, while its reader is on the way; what needs none is read', () => {
    expect(readSlash('/due 27 Nov', { ...here, readDay: null })).toMatchObject({ kind: 'refused', message: expect.stringContaining('on its way') }); // prettier-ignore
    expect(readSlash('/late 2', { ...here, readDay: null })).toMatchObject({ kind: 'change' });
  });

  it('says no lateness of work that never came', () =>
    expect(readSlash('/late 2', { ...here, hasWork: false })).toMatchObject({ kind: 'refused' }));
  it('offers by first letters, and takes the first that is offered', () => {
    expect(offered('/d').map((w) => w.word)).toEqual(['due', 'down']);
    expect(readSlash('/d', here)).toEqual({ kind: 'change', change: { kind: 'due', dueAt: null } });
    expect(readSlash('/h', here)).toEqual({ kind: 'go', to: 'history' });
  });
});

describe('words for exceptions', () => {
  const context = { timeZone: 'Europe/Dublin', asOf: '2026-11-24T09:00:00Z', due: null, hasWork: false, points: 20, marks: [], readDay }; // prettier-ignore
  it.each([
    ['/allow 2', { kind: 'change', change: { kind: 'allowances', count: 2 } }],
    ['/set 14,5', { kind: 'change', change: { kind: 'set', points: 14.5 } }],
    ['/set', { kind: 'change', change: { kind: 'set', points: null } }],
    ['/protect', { kind: 'change', change: { kind: 'protect', on: true } }],
    ['/protect no', { kind: 'change', change: { kind: 'protect', on: false } }],
    ['/attempts', { kind: 'go', to: 'attempts' }],
    ['/exceptions', { kind: 'go', to: 'exceptions' }],
  ])('%s', (text, is) => expect(readSlash(text, context)).toEqual(is));

  it.each([
    ['/excuse - ill', { kind: 'change', change: { kind: 'state', state: 'excused' } }],
    ['/again', { kind: 'go', to: 'again' }],
    ['/again 11 - a second try', { kind: 'change', change: { kind: 'attempt', made: { score: 11 } }, above: false }],
    ['/again 60%', { kind: 'change', change: { kind: 'attempt', made: { score: 12 } }, above: false }],
    ['/again 21', { kind: 'change', change: { kind: 'attempt', made: { score: 21 } }, above: true }],
    ['/points 50', { kind: 'act', act: { kind: 'points', points: 50, scores: 'keep-points' } }],
    ['/points 50 keep', { kind: 'act', act: { kind: 'points', points: 50, scores: 'keep-points' } }],
    ['/points 7,5 percent', { kind: 'act', act: { kind: 'points', points: 7.5, scores: 'keep-percentages' } }],
    ['/final 72 - a resit', { kind: 'act', act: { kind: 'final', percent: 72, letter: null } }],
    ['/final B+', { kind: 'act', act: { kind: 'final', percent: null, letter: 'B+' } }],
    ['/final', { kind: 'act', act: { kind: 'final', percent: null, letter: null } }],
    ['/feedback Clear - and loud', { kind: 'act', act: { kind: 'feedback', words: 'Clear - and loud' } }],
  ])('%s', (text, is) => expect(readSlash(text, context)).toEqual(is));

  it('of one more attempt take a named mark', () =>
    expect(readSlash('/again pa', here)).toEqual({ kind: 'change', change: { kind: 'attempt', made: { mark: 'pass' } } })); // prettier-ignore

  it.each([
    '/points',
    '/points many',
    '/points 50 50',
    '/again excused',
    '/again x',
    '/feedback',
    '/excuse all of them',
  ])('%s is refused with a sentence', (text) => expect(readSlash(text, context)).toMatchObject({ kind: 'refused' }));

  it('that cannot be read say how they are', () => {
    expect(readSlash('/allow some', context)).toMatchObject({ kind: 'refused' });
    expect(readSlash('/set high', context)).toMatchObject({ kind: 'refused' });
  });

  it('stand behind what is typed, where they lead somewhere; a fraction stays one', () => {
    expect(withWord('14 /release')).toEqual({ typed: '14', slash: '/release' });
    expect(withWord('excused - ill /rel')).toEqual({ typed: 'excused - ill', slash: '/release' });
    expect(withWord('8 /fe Clear - and loud')).toEqual({ typed: '8', slash: '/feedback Clear - and loud' });
    for (const text of ['14/20', '14 /20', '/release', '14', '14 /late 2', '14 /nonsense', '14 /release now'])
      expect(withWord(text)).toBeNull();
  });
});
