import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { Choices } from '../testing/random-book';
import { dateText, isoWeekday, localDay } from './local-days';
import { hoursToMillis, minutesToMillis, parseDate, parseMoment } from './moment';
import { makeSkips, skippedMillis } from './skipped-days';

/** Minute by minute: the zone's own clock says which day it is. Right wherever no clock goes back over midnight. */
function minuteByMinute(zone: string, from: number, to: number, days: number[], dates: number[]): number {
  let skipped = 0;
  for (let at = from; at < to; at += 60_000) {
    const day = localDay(zone, at);
    if (days.includes(isoWeekday(day)) || dates.includes(day)) skipped += 60_000;
  }
  return skipped;
}

describe('skipped days', () => {
  it.each([
    'Europe/Dublin',
    'America/Sao_Paulo',
    'Australia/Lord_Howe',
    'Asia/Kathmandu',
    'Africa/Casablanca',
    'Pacific/Apia',
  ])('are what the clock of %s says, minute by minute', (zone) => {
    const c = new Choices(zone.length);
    for (let k = 0; k < 12; k++) {
      // Around clock changes, the day that Samoa left out among them.
      const near = c.pick([
        '2011-12-29T12:00:00Z',
        '2018-11-02T12:00:00Z',
        '2026-03-28T00:00:00Z',
        '2026-10-23T12:00:00Z',
      ]);
      const from = parseMoment(near)! + c.int(0, 2_000) * 60_000;
      const to = from + c.int(1, 5_000) * 60_000;
      const days = c.pick([[6, 7], [1, 5], [], [7]]);
      const dates = [localDay(zone, from) + 1, localDay(zone, to)];
      expect(skippedMillis(zone, from, to, makeSkips(days, dates))).toBe(minuteByMinute(zone, from, to, days, dates));
    }
  });

  it('run from their first instant to the next day’s, also where the clock goes back over midnight', () => {
    // In St. John's the clocks went back at 00:01 on 7 November 2010, a Sunday, to 23:01 of the Saturday.
    const zone = 'America/St_Johns';
    const start = parseMoment('2010-11-07T02:30:00Z')!;
    expect(DateTime.fromMillis(start, { zone }).toISO()).toContain('2010-11-07T00:00');
    const sunday = makeSkips([7], []);
    const end = parseMoment('2010-11-08T03:30:00Z')!;
    expect(skippedMillis(zone, start - 3_600_000, start, sunday)).toBe(0);
    expect(skippedMillis(zone, start, end, sunday)).toBe(25 * 3_600_000);
    // The hour that the clock shows as Saturday once more belongs to the Sunday that has begun.
    expect(skippedMillis(zone, start, start + 30 * 60_000, sunday)).toBe(30 * 60_000);
    expect(skippedMillis(zone, start, start + 30 * 60_000, makeSkips([6], []))).toBe(0);
  });

  it('over a thousand years are counted without walking them', () => {
    const [from, to] = [parseMoment('1900-01-01T00:00:00Z')!, parseMoment('2999-12-31T00:00:00Z')!];
    const days = Math.round((to - from) / 86_400_000);
    const skipped = skippedMillis(
      'UTC',
      from,
      to,
      makeSkips([6, 7], [parseDate('2027-01-01')!, parseDate('2027-01-02')!]),
    );
    let expected = 0;
    for (let d = 0; d < days; d++) if (isoWeekday(from / 86_400_000 + d) >= 6) expected++;
    // 1 January 2027 is a Friday; the 2nd is a Saturday and counts once.
    expect(skipped / 86_400_000).toBe(expected + 1);
    const many = Array.from({ length: 400 }, (_, i) => parseDate('2027-01-04')! + i * 7);
    expect(skippedMillis('UTC', from, to, makeSkips([], many)) / 86_400_000).toBe(400);
  });
});

describe('times', () => {
  it('of four decimals are whole milliseconds', () => {
    expect([
      hoursToMillis(0.1),
      hoursToMillis(1.1),
      hoursToMillis(0.0001),
      minutesToMillis(0.0001),
      minutesToMillis(17.3),
    ]).toEqual([360_000, 3_960_000, 360, 6, 1_038_000]);
  });

  it('are read alike in the usual form and in any other', () => {
    const c = new Choices(5);
    for (let k = 0; k < 3_000; k++) {
      const day = c.int(-25_567, 376_199);
      const text = `${dateText(day)}T${String(c.int(0, 23)).padStart(2, '0')}:${String(c.int(0, 59)).padStart(2, '0')}:${String(c.int(0, 59)).padStart(2, '0')}Z`;
      expect(parseMoment(text)).toBe(Date.parse(text));
      expect(parseMoment(text.replace('Z', '+00:00'))).toBe(Date.parse(text));
      const millis = text.replace('Z', `.${String(c.int(0, 999)).padStart(3, '0')}Z`);
      expect(parseMoment(millis)).toBe(Date.parse(millis));
      expect(parseMoment(millis.replace('Z', '+00:00'))).toBe(Date.parse(millis));
      expect(parseDate(dateText(day))).toBe(day);
    }
  });

  it('that are none are refused, wherever their fault is', () => {
    const good = '2027-01-15T12:30:45.250Z';
    expect(parseMoment(good)).toBe(Date.parse(good));
    for (let i = 0; i < good.length; i++) {
      const bad = `${good.slice(0, i)}x${good.slice(i + 1)}`;
      expect(parseMoment(bad), bad).toBeNull();
    }
    for (const bad of [
      '2027-02-29T12:00:00.000Z',
      '2027-01-15T24:00:00.000Z',
      '2027-01-15T12:00:60.000Z',
      '1899-12-31T00:00:00.000Z',
    ])
      expect(parseMoment(bad), bad).toBeNull();
  });
});
