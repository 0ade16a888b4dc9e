import { LOCALES } from '@contract/wire/constants';
import { dayAndTime, dayAndYear, fullDay, time } from './dates';
import { locale } from './locale';
import { loadDayReader, readDay } from './read-day';

const zone = 'Europe/Dublin';
const near = '2026-11-24T09:00:00Z';
const read = (text: string): string | null => readDay(text, { zone, near });

afterEach(() => locale.set('en-GB'));

describe('days as typed', () => {
  it.each([
    ['27 Nov', '2026-11-27T17:00:00.000Z'],
    ['27 nov 09:30', '2026-11-27T09:30:00.000Z'],
    ['1 Oct 12:00', '2026-10-01T11:00:00.000Z'],
    ['2026-11-27', '2026-11-27T17:00:00.000Z'],
    ['2026-11-27 08:05', '2026-11-27T08:05:00.000Z'],
    ['15 January', '2027-01-15T17:00:00.000Z'],
    ['4/12', '2026-12-04T17:00:00.000Z'],
    ['12/4/2026', '2026-04-12T16:00:00.000Z'],
    ['Fri 4 Dec', '2026-12-04T17:00:00.000Z'],
    ['December 4th, 5:30 pm', '2026-12-04T17:30:00.000Z'],
    ['Friday', '2026-11-27T17:00:00.000Z'],
    ['next Friday', '2026-12-04T17:00:00.000Z'],
    ['tomorrow 5pm', '2026-11-25T17:00:00.000Z'],
    ['in 3 days', '2026-11-27T17:00:00.000Z'],
    ['noon tomorrow', '2026-11-25T12:00:00.000Z'],
  ])('%s', (text, at) => expect(read(text)).toBe(at));

  it.each([
    '31 Nov',
    '27',
    '12 Foo',
    '1 Oct 25:00',
    '',
    '17:00',
    '5 Dec - 7 Dec',
    'Mon 4 Dec 2026',
    '9999-12-31',
    '1 Jan 1850',
    '31 Dec 3000',
    'x'.repeat(500),
  ])('%s is no day', (text) => expect(read(text)).toBe(null));

  it('takes the time of the date it replaces', () =>
    expect(readDay('27 Nov', { zone, near, like: '2026-10-10T15:30:00Z' })).toBe('2026-11-27T16:30:00.000Z'));
  it('counts what is said of today from now, and a year from what is near', () => {
    const context = { zone, near: '2025-03-01T00:00:00Z', now: near };
    expect(readDay('tomorrow', context)).toBe('2026-11-25T17:00:00.000Z');
    expect(readDay('27 Nov', context)).toBe('2024-11-27T17:00:00.000Z');
  });
  it('takes a weekday for the last one where something has been', () =>
    expect(readDay('Friday', { zone, near, past: true })).toBe('2026-11-20T17:00:00.000Z'));
  it('knows the day that the zone has, not this machine', () =>
    expect(readDay('tomorrow', { zone: 'Pacific/Auckland', near: '2026-11-24T12:30:00Z' })).toBe(
      '2026-11-26T04:00:00.000Z',
    ));

  it('reads the month first where people write so', () => {
    locale.set('en-US');
    expect(read('12/4')).toBe('2026-12-04T17:00:00.000Z');
    expect(dayAndTime('2026-12-04T17:00:00Z', zone)).toBe('Dec 4 17:00');
  });
  it('reads a language of their own beside English', async () => {
    locale.set('de-DE');
    await loadDayReader('de-DE');
    expect(read('4. Dezember')).toBe('2026-12-04T17:00:00.000Z');
    expect(read('morgen')).toBe('2026-11-25T17:00:00.000Z');
    expect(read('4 Dec')).toBe('2026-12-04T17:00:00.000Z');
  });
  it.each(LOCALES)('%s: reads what it says itself, with and without the year and in full', async (tag) => {
    locale.set(tag);
    await loadDayReader(tag);
    for (let month = 0; month < 12; month++) {
      const at = new Date(Date.UTC(2026, month, 4 + month, 12, 30)).toISOString();
      const close = { zone, near: at };
      expect([month, readDay(dayAndTime(at, zone), close)]).toEqual([month, at]);
      expect([month, readDay(`${dayAndYear(at, zone)} ${time(at, zone)}`, { zone, near })]).toEqual([month, at]);
      expect([month, fullDay(at, zone).length > 10]).toEqual([month, true]);
    }
  });
});
