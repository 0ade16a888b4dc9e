import { offered, readSlash } from './slash-words';

const here = { timeZone: 'Europe/Dublin', asOf: '2026-11-24T09:00:00Z', due: '2026-11-12T17:00:00Z', hasWork: true };

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
    expect(read.kind === 'refused' && read.says.length).toBeGreaterThan(20);
  });

  it('says no lateness of work that never came', () =>
    expect(readSlash('/late 2', { ...here, hasWork: false })).toMatchObject({ kind: 'refused' }));
  it('offers by first letters, and takes the first that is offered', () => {
    expect(offered('/d').map((w) => w.word)).toEqual(['due', 'down']);
    expect(readSlash('/d', here)).toEqual({ kind: 'change', change: { kind: 'due', dueAt: null } });
    expect(readSlash('/h', here)).toEqual({ kind: 'go', to: 'history' });
  });
});
