import { describe, expect, it } from 'vitest';
import type { LateRule } from '../../book/document';
import { toText } from '../../exact/fraction';
import { smallBook } from '../../testing/books';
import { compileBook } from '../compiled/compile';
import { workOutStudent } from '../final';
import { dateText, dayStart, isTimeZone, localDay, HOUR } from '../../time/local-days';
import { parseMoment } from '../../time/moment';
import { makeSkips, skippedMillis } from '../../time/skipped-days';

function earned(rule: LateRule, attempt: object, due = '2027-01-10T17:00:00Z'): string {
  const book = smallBook({
    tree: { id: 'all', type: 'group', combine: 'points', children: [{ id: 'a', type: 'item', points: 20, due }] },
    entries: [{ student: 's1', item: 'a', attempts: [{ score: 16, ...attempt }] }],
  });
  book.rules!.late = { steady: rule };
  return toText(workOutStudent(compileBook(book), 0).values[0]!.earned!);
}

const DAYS: LateRule = { unit: 'day', deduct: 10, max: 50, graceMinutes: 15 };

describe('lateness', () => {
  it.each([
    ['on the dot', { receivedAt: '2027-01-10T17:00:00Z' }, '16'],
    ['in the last moment of grace', { receivedAt: '2027-01-10T17:15:00Z' }, '16'],
    ['a moment past grace: the whole first day', { receivedAt: '2027-01-10T17:15:00.001Z' }, '14'],
    ['24 hours exactly is one day', { receivedAt: '2027-01-11T17:00:00Z' }, '14'],
    ['a moment more is two', { receivedAt: '2027-01-11T17:00:01Z' }, '12'],
    ['never more than the limit', { receivedAt: '2027-03-01T00:00:00Z' }, '6'],
    ['waived', { receivedAt: '2027-01-12T00:00:00Z', onTime: true }, '16'],
    ['said by hand, no grace', { lateUnits: 3 }, '10'],
    ['said by hand goes before the clock', { receivedAt: '2027-01-20T00:00:00Z', lateUnits: 1 }, '14'],
    ['said to be none', { receivedAt: '2027-01-20T00:00:00Z', lateUnits: 0 }, '16'],
    ['with an offset in the moment', { receivedAt: '2027-01-10T18:00:00+01:00' }, '16'],
  ])('%s', (_what, attempt, points) => expect(earned(DAYS, attempt)).toBe(points));

  it('takes of what was earned where the rule says so, and stops at the floor', () => {
    expect(earned({ ...DAYS, of: 'earned' }, { lateUnits: 2 })).toBe('64/5');
    expect(earned({ ...DAYS, max: 100, floor: 50 }, { lateUnits: 9 })).toBe('10');
    expect(earned({ ...DAYS, max: 100, floor: 90 }, { lateUnits: 9 })).toBe('16');
  });

  it('takes what is more after closing, where no floor holds, with a due date or without one', () => {
    const after = (rule: LateRule, attempt: object, item: object = {}): string => {
      const at = { due: '2027-01-10T17:00:00Z', closes: '2027-01-13T17:00:00Z' };
      const book = smallBook({
        tree: { id: 'all', type: 'group', combine: 'points', children: [{ id: 'a', type: 'item', points: 20, ...at, ...item }] }, // prettier-ignore
        entries: [{ student: 's1', item: 'a', attempts: [{ score: 16, ...attempt }] }],
      });
      book.rules!.late = { steady: rule };
      return toText(workOutStudent(compileBook(book), 0).values[0]!.earned!);
    };
    const rule: LateRule = { ...DAYS, floor: 60, afterCloses: 70 };
    // At the moment of closing it is late and no more: three days, and the floor holds.
    expect(after(rule, { receivedAt: '2027-01-13T17:00:00Z' })).toBe('12');
    expect(after(rule, { receivedAt: '2027-01-13T17:00:01Z' })).toBe('2');
    // What the rule takes by itself, where that is more.
    expect(after({ ...rule, max: 100 }, { receivedAt: '2027-01-18T17:00:00Z' })).toBe('0');
    expect(after({ ...DAYS, afterCloses: 20 }, { receivedAt: '2027-01-15T16:00:00Z' })).toBe('6');
    expect(after(rule, { receivedAt: '2027-01-20T17:00:00Z', onTime: true })).toBe('16');
    expect(after(rule, { receivedAt: '2027-01-20T17:00:00Z', lateUnits: 1 })).toBe('14');
    expect(after({ ...rule, of: 'earned' }, { receivedAt: '2027-01-20T17:00:00Z' })).toBe('24/5');
    expect(after(rule, { receivedAt: '2027-01-14T17:00:00Z' }, { due: undefined })).toBe('2');
    expect(after(rule, { receivedAt: '2027-01-20T17:00:00Z' }, { closes: undefined })).toBe('12');
  });

  it('goes by steps, stated lateness in days', () => {
    const steps: LateRule = {
      steps: [
        { hours: 24, deduct: 5 },
        { hours: 72, deduct: 20 },
      ],
      after: 100,
    };
    expect(
      ['2027-01-11T17:00:00Z', '2027-01-11T17:00:01Z', '2027-01-14T00:00:00Z'].map((receivedAt) =>
        earned(steps, { receivedAt }),
      ),
    ).toEqual(['15', '12', '0']);
    expect(earned(steps, { lateUnits: 3 })).toBe('12');
  });

  it('leaves out skipped days, also where the clock changes', () => {
    // Due Friday noon, in on Monday noon; Saturday and Sunday do not count. The clocks go back on Sunday 31 October 2027.
    expect(
      earned(
        { ...DAYS, graceMinutes: 0, skipDays: [6, 7] },
        { receivedAt: '2027-11-01T12:00:00Z' },
        '2027-10-29T11:00:00Z',
      ),
    ).toBe('14');
    expect(
      skippedMillis(
        'Europe/Dublin',
        parseMoment('2027-10-30T00:00:00Z')!,
        parseMoment('2027-11-02T00:00:00Z')!,
        makeSkips([7], []),
      ),
    ).toBe(25 * HOUR);
    expect(earned({ ...DAYS, skipDates: ['2027-01-11'] }, { receivedAt: '2027-01-12T16:00:00Z' })).toBe('14');
  });
});

describe('local days', () => {
  it('begin at their first instant, where midnight does not exist too', () => {
    // Clocks in São Paulo went from 00:00 to 01:00 on 4 November 2018.
    const day = localDay('America/Sao_Paulo', Date.UTC(2018, 10, 4, 12));
    expect(new Date(dayStart('America/Sao_Paulo', day)).toISOString()).toBe('2018-11-04T03:00:00.000Z');
    expect(dateText(day)).toBe('2018-11-04');
  });

  it('know a time zone from a name that is none', () => {
    expect(['Europe/Dublin', 'UTC', 'Asia/Kathmandu', 'Mars/Olympus', '../etc', ''].map(isTimeZone)).toEqual([
      true,
      true,
      true,
      false,
      false,
      false,
    ]);
  });
});

describe('moments', () => {
  it.each([
    '2027-02-29T00:00:00Z',
    '2027-01-01T24:00:00Z',
    '2027-01-01T00:00:60Z',
    '1899-12-31T00:00:00Z',
    '3000-01-01T00:00:00Z',
    '2027-01-01 00:00:00Z',
    '2027-01-01T00:00:00',
    '2027-01-01T00:00:00.1234Z',
    '2027-13-01T00:00:00Z',
  ])('refuses %s', (text) => expect(parseMoment(text)).toBe(null));
  it('reads offsets and fractions', () =>
    expect(parseMoment('2027-01-01T01:30:00.5+01:30')).toBe(Date.UTC(2027, 0, 1, 0, 0, 0, 500)));
});
