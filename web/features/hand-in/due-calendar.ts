import ical from 'ical-generator';
import type { DueList } from '@contract/work/submissions';

/** Minutes that a due date takes in a calendar. */
const MINUTES = 15;

/**
 * What is due as an iCalendar file (RFC 5545). Each event's id stays over its days, so that a file that is read again moves
 * what is in the calendar already. `origin`: where the application is.
 */
export function dueCalendar(list: DueList, origin: string): string {
  const calendar = ical({ name: 'Due', prodId: { company: 'Last Tally', product: 'Due', language: 'EN' } });
  const host = new URL(origin).hostname;
  for (const w of list.work) {
    if (w.due === null) continue;
    const due = new Date(w.due);
    calendar.createEvent({
      id: `${w.book}.${w.assessment}@${host}`,
      start: new Date(due.getTime() - MINUTES * 60_000),
      end: due,
      stamp: new Date(list.asOf),
      summary: `${w.title} is due`,
      description: `${w.bookTitle}, of ${w.points} points`,
      url: `${origin}/my/${w.book}/${w.assessment}`,
    });
  }
  return calendar.toString();
}
