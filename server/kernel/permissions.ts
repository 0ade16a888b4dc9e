import { Refusal } from './refusal';

export type BookRole = 'teacher' | 'co-teacher' | 'marker' | 'reviewer';

/** Which roles in a book open which door. An administrator reads every book, and changes its people alone. */
const BOOK_DOORS = {
  'book-read': ['teacher', 'co-teacher', 'marker', 'reviewer', 'administrator'],
  'book-scores': ['teacher', 'co-teacher', 'marker'],
  'book-manage': ['teacher', 'co-teacher'],
  'book-make': ['teacher', 'co-teacher'],
  'book-own': ['teacher', 'co-teacher'],
  // The office moves work and takes in what came late, with a reason, and changes nothing else of it.
  'book-work': ['teacher', 'co-teacher', 'administrator'],
  'book-people': ['teacher', 'co-teacher', 'administrator'],
  'book-office': ['administrator'],
} as const satisfies Record<string, readonly (BookRole | 'administrator')[]>;

export type BookPermission = keyof typeof BOOK_DOORS;

export const isBookPermission = (permission: string): permission is BookPermission => permission in BOOK_DOORS;

/** What somebody is to a book. */
export interface BookStanding {
  personRole: 'staff' | 'administrator' | 'student';
  bookThere: boolean;
  bookArchived: boolean;
  bookRole: BookRole | null;
}

/** The role in which somebody may come through a book's door; refuses where they may not. */
export function requireBookRole(who: BookStanding, permission: BookPermission): BookRole | 'administrator' {
  if (who.personRole === 'student') throw new Refusal('not-allowed', 'This is not open to you.');
  const role = who.personRole === 'administrator' ? ('administrator' as const) : who.bookRole;
  // A book that is not theirs is not there for them.
  if (role === null || !who.bookThere) throw new Refusal('not-found', 'You have no such book.');
  if (!(BOOK_DOORS[permission] as readonly string[]).includes(role))
    throw new Refusal(
      'not-allowed',
      role === 'administrator'
        ? 'The office reads this book and does not change it.'
        : role === 'reviewer'
          ? 'A reviewer reads this book and does not change it.'
          : 'Only the teachers of this book may do this.',
    );
  if (who.bookArchived && permission !== 'book-read' && permission !== 'book-own')
    throw new Refusal('not-allowed', 'This book is put away: it is read and not changed. Take it out again first.');
  return role;
}

/** May change rules, bring in and release. */
export const managesBook = (role: BookRole | 'administrator' | null): boolean =>
  role === 'teacher' || role === 'co-teacher';
