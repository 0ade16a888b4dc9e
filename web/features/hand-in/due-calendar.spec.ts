import type { DueList } from '@contract/work/submissions';
import { dueCalendar } from './due-calendar';

const work = (more: Partial<DueList['work'][number]>): DueList['work'][number] => ({
  ...{ book: 'fens', bookTitle: 'Fens; and, more', timeZone: 'Europe/Dublin', assessment: 'moss', title: 'Moss' },
  ...{ points: 20, due: '2026-12-01T17:00:00Z', closes: null, takesWork: true, kinds: ['files'], elsewhere: 'room' },
  ...{ state: 'open', again: false, lying: 0 },
  ...more,
});

/** Lines as a reader of calendars unfolds them. */
const linesOf = (text: string): string[] => text.replace(/\r\n[ \t]/g, '').split('\r\n');

describe('due dates as a calendar', () => {
  const long = 'Ä'.repeat(90);
  const list: DueList = {
    asOf: '2026-11-24T09:00:00Z',
    work: [work({}), work({ assessment: 'talk', title: 'Talk', due: null }), work({ assessment: 'long', title: long })],
  };
  const lines = linesOf(dueCalendar(list, 'https://tally.example'));

  it('have an event each, ending when it is due, with an id that stays', () => {
    expect(lines.filter((l) => l === 'BEGIN:VEVENT')).toHaveLength(2);
    expect(lines).toContain('UID:fens.moss@tally.example');
    expect(lines).toContain('DTEND:20261201T170000Z');
    expect(lines).toContain('SUMMARY:Moss is due');
    expect(lines).toContain('URL;VALUE=URI:https://tally.example/my/fens/moss');
  });

  it('keep every letter, folded and escaped as the standard says', () => {
    expect(lines).toContain(`SUMMARY:${long} is due`);
    expect(lines.filter((l) => l.startsWith('DESCRIPTION'))[0]).toBe('DESCRIPTION:Fens\\; and\\, more\\, of 20 points');
    const raw = dueCalendar(list, 'https://tally.example').split('\r\n');
    expect(Math.max(...raw.map((l) => new TextEncoder().encode(l).length))).toBeLessThanOrEqual(75);
  });
});
