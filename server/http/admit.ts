import type { IncomingMessage } from 'node:http';
import { Refusal } from '../kernel/refusal';
import type { Admission, Identity, CachedAdmission, Person } from '../modules/accounts';
import { namesHidden } from '../modules/hidden-names';
import { isBookPermission, requireBookRole, type BookRole } from '../kernel/permissions';
import type { Permission } from './route';
import { sessionIdOf } from './sessions';

export interface Admitted {
  person: Person | null;
  role: BookRole | 'administrator' | null;
  /** What a change must carry; empty where there is no session. */
  token: string;
  /** Assessments of the book in which it is not said whose work is whose. */
  hidden: readonly string[];
}

/** Lets a request through, or refuses it. */
export async function admit(
  admission: Admission,
  secret: string,
  permission: Permission,
  request: IncomingMessage,
  params: Record<string, string>,
): Promise<Admitted> {
  if (permission === 'anyone') return { person: null, role: null, token: '', hidden: [] };
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
  // Where names are hidden it is looked at closely what may be told.
  if (!known || known.role === null || known.hidden.length > 0) return null;
  const { person, token } = known;
  return {
    admitted: authorize(known, permission),
    grant: { session: asked.session, person: person.id, token, role: person.role, bookRole: known.role },
    async recheck() {
      const now = authorize(await admission.find(asked), permission);
      if (now.person?.id !== person.id || now.token !== token) throw notSignedIn();
      if (now.hidden.includes(params['assessment'] ?? '')) throw namesHidden();
    },
  };
}

const notSignedIn = (): Refusal =>
  new Refusal('not-signed-in', 'You are not signed in any more. Sign in again; what you typed is still here.');

/** What is not allowed by name is refused. */
function authorize(known: Identity | null, permission: Permission): Admitted {
  if (!known) throw notSignedIn();
  const { person, token, hidden } = known;
  if (permission === 'signed-in') return { person, role: null, token, hidden };
  if (permission === 'office' && person.role === 'administrator') return { person, role: null, token, hidden };
  if (permission === 'staff' && person.role === 'staff') return { person, role: null, token, hidden };
  if (permission === 'staff-or-office' && person.role !== 'student') return { person, role: null, token, hidden };
  if (permission === 'student' && person.role === 'student') return { person, role: null, token, hidden };
  if (!isBookPermission(permission)) throw new Refusal('not-allowed', 'This is not open to you.');
  const { bookThere, bookArchived, role: bookRole } = known;
  const standing = { personRole: person.role, bookThere, bookArchived, bookRole };
  return { person, role: requireBookRole(standing, permission), token, hidden };
}
