import type { IncomingMessage } from 'node:http';
import { Refusal } from '../kernel/refusal';
import type { Admission, Identity, CachedAdmission, Person } from '../modules/accounts';
import { isBookPermission, requireBookRole, type BookRole } from '../kernel/permissions';
import type { Permission } from './route';
import { sessionIdOf } from './sessions';

export interface Admitted {
  person: Person | null;
  role: BookRole | 'administrator' | null;
  /** What a change must carry; empty where there is no session. */
  token: string;
}

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
  if (!isBookPermission(permission)) throw new Refusal('not-allowed', 'This is not open to you.');
  const { bookThere, bookArchived, role: bookRole } = known;
  const standing = { personRole: person.role, bookThere, bookArchived, bookRole };
  return { person, role: requireBookRole(standing, permission), token };
}
