import type { IncomingMessage } from 'node:http';
import { Refusal } from '../kernel/refusal';
import type { Admission, Identity, CachedAdmission, Person } from '../modules/accounts';
import type { BookRole } from '../modules/books';
import type { Permission } from './route';
import { sessionIdOf } from './sessions';

export interface Admitted {
  person: Person | null;
  role: BookRole | 'administrator' | null;
  /** What a change must carry; empty where there is no session. */
  token: string;
}

/** Which roles in a book open which door. An administrator reads every book, and changes its people alone. */
const BOOK_DOORS: Partial<Record<Permission, readonly (BookRole | 'administrator')[]>> = {
  'book-read': ['teacher', 'co-teacher', 'marker', 'reviewer', 'administrator'],
  'book-scores': ['teacher', 'co-teacher', 'marker'],
  'book-manage': ['teacher', 'co-teacher'],
  'book-make': ['teacher', 'co-teacher'],
  'book-own': ['teacher', 'co-teacher'],
  'book-people': ['teacher', 'co-teacher', 'administrator'],
};

/** Lets a request through, or refuses it. */
export async function admit(
  admission: Admission,
  secret: string,
  permission: Permission,
  request: IncomingMessage,
  params: Record<string, string>,
): Promise<Admitted> {
  if (permission === 'anyone') return { person: null, role: null, token: '' };
  const session = sessionIdOf(request, secret);
  return authorize(session === null ? null : await admission.find({ session, book: params['book'] ?? '' }), permission);
}

/** The same from what is remembered, for one who asks again before anything comes of it; null where that is not enough. */
export function admitFromCache(
  admission: Admission,
  secret: string,
  permission: Permission,
  request: IncomingMessage,
  params: Record<string, string>,
): (CachedAdmission & { admitted: Admitted }) | null {
  const session = sessionIdOf(request, secret);
  const asked = { session: session ?? '', book: params['book'] ?? '' };
  const known = admission.cached(asked);
  if (!known || known.role === null) return null;
  const { person, token } = known;
  return {
    admitted: authorize(known, permission),
    grant: { session: asked.session, person: person.id, token, role: person.role, bookRole: known.role },
    async recheck() {
      const now = authorize(await admission.find(asked), permission);
      if (now.person?.id !== person.id || now.token !== token) throw notSignedIn();
    },
  };
}

const notSignedIn = (): Refusal =>
  new Refusal('not-signed-in', 'You are not signed in any more. Sign in again; what you typed is still here.');

/** What is not allowed by name is refused. */
function authorize(known: Identity | null, permission: Permission): Admitted {
  if (!known) throw notSignedIn();
  const { person, token } = known;
  if (permission === 'signed-in') return { person, role: null, token };
  if (permission === 'office' && person.role === 'administrator') return { person, role: null, token };
  if (permission === 'staff' && person.role === 'staff') return { person, role: null, token };
  if (permission === 'staff-or-office' && person.role !== 'student') return { person, role: null, token };
  if (permission === 'student' && person.role === 'student') return { person, role: null, token };
  const doors = BOOK_DOORS[permission];
  if (doors && person.role !== 'student') return { person, role: bookRole(known, person, doors, permission), token };
  throw new Refusal('not-allowed', 'This is not open to you.');
}

function bookRole(
  known: Identity,
  person: Person,
  doors: readonly string[],
  permission: Permission,
): BookRole | 'administrator' {
  const role = person.role === 'administrator' ? ('administrator' as const) : known.role;
  // A book that is not theirs is not there for them.
  if (role === null || !known.bookThere) throw new Refusal('not-found', 'You have no such book.');
  if (!doors.includes(role))
    throw new Refusal(
      'not-allowed',
      role === 'administrator'
        ? 'The office reads this book and does not change it.'
        : role === 'reviewer'
          ? 'A reviewer reads this book and does not change it.'
          : 'Only the teachers of this book may do this.',
    );
  if (known.bookArchived && permission !== 'book-read' && permission !== 'book-own')
    throw new Refusal('not-allowed', 'This book is put away: it is read and not changed. Take it out again first.');
  return role;
}
