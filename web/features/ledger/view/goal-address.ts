import type { Goal } from '../editor/slash-words';

/** The words that lead to another page. */
export type PageGoal = Extract<Goal, 'student' | 'mark' | 'attempts' | 'exceptions' | 'again' | 'rules' | 'release'>;
const PAGE_GOALS: readonly Goal[] = ['student', 'mark', 'attempts', 'exceptions', 'again', 'rules', 'release'];
export const isPageGoal = (goal: Goal): goal is PageGoal => PAGE_GOALS.includes(goal);

export interface Address {
  path: string[];
  query: Record<string, string | undefined>;
}

/** Where such a word leads from a cell, or from the standing (`item` null); null where it leads nowhere from there. */
export function addressOf(
  goal: PageGoal,
  book: string,
  place: { student: string; item: string | null } | null,
): Address | null {
  const item = place?.item ?? undefined;
  const page = (name: string, query: Address['query'] = {}): Address => ({ path: ['/book', book, name], query });
  switch (goal) {
    case 'student':
      return place && { path: ['/book', book, 'student', place.student], query: {} };
    case 'mark':
      return place?.item
        ? { path: ['/book', book, 'marking', place.item], query: { student: place.student } }
        : page('marking');
    case 'attempts':
      return place?.item ? { path: ['/book', book, 'student', place.student, place.item], query: {} } : null;
    case 'exceptions':
      return page('exceptions', { student: place?.student, assessment: item });
    case 'again':
      return page('exceptions', { student: place?.student, assessment: item, make: 'open-again' });
    case 'rules':
      return page('rules', { of: item });
    case 'release':
      return page('release', { assessment: item });
  }
}
