import { TestBed } from '@angular/core/testing';
import { BookStore } from '../../../data/book';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { STATES } from '../../../worker/protocol';
import { ScoreEntry, typedScore } from './score-entry';

describe('a score that is typed in the room', () => {
  let kept: object[];
  let entry: ScoreEntry;
  let wantsReasons: boolean;
  let state: (typeof STATES)[number];
  const unreadable = { keep: vi.fn(), drop: vi.fn() };
  const at = { student: 's1', item: 'moss', handedIn: true };

  beforeEach(() => {
    [kept, wantsReasons, state] = [[], false, 'pending'];
    const store = {
      assessments: () => new Map([['moss', { points: 20, marks: ['good', 'fair'] }]]),
      page: () => ({ wantsReasons }),
      cells: () => ({ state: Uint8Array.of(STATES.indexOf(state)) }),
      atCell: () => 0,
      change: async (write: object) => void kept.push(write),
    };
    TestBed.configureTestingModule({
      providers: [
        { provide: BookStore, useValue: store },
        { provide: UnreadableEntries, useValue: unreadable },
      ],
    });
    entry = TestBed.inject(ScoreEntry);
  });

  it('is kept with what was typed and the version that was seen, in every way of writing it', () => {
    for (const text of ['14,5', '85%', '17/20', 'GOOD', 'ex', '']) expect(entry.enter(at, text, 3, '')).toBe('');
    expect(kept).toMatchObject([
      { student: 's1', item: 'moss', change: { kind: 'score', points: 14.5 }, typed: '14,5', seen: 3 },
      { change: { kind: 'score', points: 17 } },
      { change: { kind: 'score', points: 17 } },
      { change: { kind: 'mark', label: 'good' } },
      { change: { kind: 'state', state: 'excused' } },
      { change: { kind: 'clear' } },
    ]);
  });

  it('that is more than full, or of somebody who handed nothing in, is asked about once', () => {
    expect(entry.enter(at, '24', 1, '')).toBe('24 is more than the 20 possible. Enter once more keeps it.');
    expect(entry.enter(at, '24', 1, '24')).toBe('');
    state = 'blank';
    const nothing = { ...at, handedIn: false };
    expect(entry.enter(nothing, '4', 1, '')).toContain('Nothing was handed in.');
    expect(entry.enter(nothing, 'ex', 1, '')).toBe('');
    expect(entry.enter(nothing, '4', 1, '4')).toBe('');
    // Said by hand to have come, or scored before, there is nothing to ask.
    state = 'scored';
    expect(entry.enter(nothing, '5', 1, '')).toBe('');
    expect(kept).toHaveLength(4);
  });

  it('that cannot be read, or lacks the reason that the school wants, is said and not kept', () => {
    expect(entry.enter(at, 'many', 1, 'many')).toContain('“many” is not a score');
    wantsReasons = true;
    expect(entry.enter(at, 'ex', 1, '')).toContain('The school wants a reason');
    expect(kept).toEqual([]);
    expect(entry.enter(at, 'ex - ill', 1, '')).toBe('');
    expect(kept).toMatchObject([{ typed: 'ex - ill' }]);
  });

  it('stands in its box as the last attempt has it', () => {
    expect(typedScore(null)).toBe('');
    expect(typedScore({ attempts: [{ score: 3 }, { score: 12.5 }] })).toBe('12.5');
    expect(typedScore({ attempts: [{ mark: 'fair' }] })).toBe('fair');
    expect(typedScore({ attempts: [{ receivedAt: '2026-11-24T09:00:00Z' }] })).toBe('');
  });
});
