import { ago, dayAndTime, readDay } from './dates';

const ZONE = 'Europe/Dublin';
const NEAR = '2026-11-24T09:00:00Z';

describe('days as typed', () => {
  it.each([
    ['27 Nov', '2026-11-27T17:00:00.000Z'],
    ['27 nov 09:30', '2026-11-27T09:30:00.000Z'],
    ['1 Oct 12:00', '2026-10-01T11:00:00.000Z'],
    ['2026-11-27', '2026-11-27T17:00:00.000Z'],
    ['2026-11-27 08:05', '2026-11-27T08:05:00.000Z'],
    ['15 January', '2027-01-15T17:00:00.000Z'],
  ])('%s', (text, at) => expect(readDay(text, ZONE, NEAR)).toBe(at));

  it.each(['31 Nov', '27', 'tomorrow', '12 Foo', '1 Oct 25:00', ''])('%s is no day', (text) =>
    expect(readDay(text, ZONE, NEAR)).toBe(null),
  );

  it('takes the time of the date it replaces', () =>
    expect(readDay('27 Nov', ZONE, NEAR, '2026-10-10T15:30:00Z')).toBe('2026-11-27T16:30:00.000Z'));
  it('is shown in the zone of the book', () => expect(dayAndTime('2026-09-01T16:00:00Z', ZONE)).toBe('1 Sep 17:00'));
  it('says how long ago', () =>
    expect(['2026-11-24T08:00:00Z', '2026-11-23T08:00:00Z', '2026-11-12T08:00:00Z'].map((a) => ago(a, NEAR))).toEqual([
      'today',
      '1 day',
      '12 days',
    ]));
});
