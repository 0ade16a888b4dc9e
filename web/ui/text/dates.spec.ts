import { ago, dayAndTime } from './dates';

const ZONE = 'Europe/Dublin';
const NEAR = '2026-11-24T09:00:00Z';

describe('days as people read them', () => {
  it('is shown in the zone of the book', () => expect(dayAndTime('2026-09-01T16:00:00Z', ZONE)).toBe('1 Sep 17:00'));
  it('says how long ago', () =>
    expect(['2026-11-24T08:00:00Z', '2026-11-23T08:00:00Z', '2026-11-12T08:00:00Z'].map((a) => ago(a, NEAR))).toEqual([
      'today',
      '1 day',
      '12 days',
    ]));
});
