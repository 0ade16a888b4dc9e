import { gradeIn } from '../../ui/text/amount';
import { madeOf, type Target } from './exception-maker';

const target = (more: Partial<Target> = {}): Target => ({
  student: 's1',
  item: 'moss',
  points: 20,
  due: '2026-10-20T16:00:00Z',
  content: {},
  ...more,
});
const zone = 'Europe/Dublin';
const none = { text: '', day: null };

describe('an exception that is asked for', () => {
  it('moves a due date by days at the same local time, from an own date where there is one', () => {
    const days = { text: '+14', day: null };
    expect(madeOf('extension', [target()], days, zone)).toEqual({
      cells: [
        {
          student: 's1',
          item: 'moss',
          change: { kind: 'dates', dueAt: '2026-11-03T17:00:00.000Z', closesAt: null },
        },
      ],
      left: '',
    });
    const own = target({ content: { dueAt: '2026-11-01T17:00:00Z', closesAt: '2026-11-05T17:00:00Z' } });
    expect(madeOf('extension', [own], { text: '2 days', day: null }, zone)).toMatchObject({
      cells: [{ change: { dueAt: '2026-11-03T17:00:00.000Z', closesAt: '2026-11-05T17:00:00Z' } }],
    });
  });

  it('leaves what it cannot be made for, and says so', () => {
    expect(madeOf('extension', [target({ due: null }), target()], { text: '3', day: null }, zone)).toMatchObject({
      cells: [{ student: 's1' }],
      left: '1 cell has no due date to count from, and is left as it is.',
    });
    const late = target({ content: { attempts: [{ score: 4, lateUnits: 2 }, { score: 5 }] } });
    expect(madeOf('waiver', [target(), late], none, zone)).toMatchObject({
      cells: [
        {
          change: {
            kind: 'put',
            entry: {
              attempts: [
                { score: 4, lateUnits: 2, onTime: true },
                { score: 5, onTime: true },
              ],
            },
          },
        },
      ],
      left: '1 cell has no work whose lateness could be waived, and is left as it is.',
    });
  });

  it('reads scores in points and percent, and refuses what it cannot read', () => {
    expect(madeOf('set', [target()], { text: '70%', day: null }, zone)).toMatchObject({
      cells: [{ change: { kind: 'set', points: 14 } }],
    });
    expect(madeOf('set', [target()], { text: '14,5', day: null }, zone)).toMatchObject({
      cells: [{ change: { points: 14.5 } }],
    });
    for (const [kind, text] of [
      ['set', 'many'],
      ['extension', 'soon'],
      ['open-again', ''],
      ['allowance', '0'],
      ['extra-time', '-4'],
      ['override', ' '],
    ] as const)
      expect(Object.keys(madeOf(kind, [target()], { text, day: null }, zone))).toEqual(['message']);
  });

  it('keeps the work under a zero that stays', () => {
    const content = { attempts: [{ score: 12 }] };
    expect(madeOf('zero', [target({ content })], none, zone)).toMatchObject({
      cells: [{ change: { kind: 'put', entry: { attempts: [{ score: 12 }], set: 0, protected: true } } }],
    });
  });

  it('takes a final grade as a percentage or a letter', () => {
    expect(gradeIn('64,5')).toEqual({ percent: 64.5, letter: null });
    expect(gradeIn('64 %')).toEqual({ percent: 64, letter: null });
    expect(gradeIn(' B ')).toEqual({ percent: null, letter: 'B' });
  });
});
