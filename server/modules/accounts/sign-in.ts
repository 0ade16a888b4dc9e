import { verify } from '@node-rs/argon2';
import type { Me } from '@contract/accounts';
import type { Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { hashPassword } from './password';
import { settingsOf } from './sql/settings';
import { findForSignIn, findPerson, findSchool, personName, type Person } from './sql/persons';

/** Counts failed sign-ins and refuses those who have too many. */
export interface Throttle {
  admit(account: string, address: string): Promise<void>;
  failed(account: string, address: string): Promise<void>;
  succeeded(account: string): Promise<void>;
}

// Somebody who does not exist takes as long to refuse as somebody who does.
let nobody: Promise<string> | undefined;

/** The person whose name and password these are; refuses where they do not go together. */
export async function identify(
  db: Db,
  throttle: Throttle,
  given: { login: string; password: string; address: string },
): Promise<Person> {
  const login = given.login.trim().toLowerCase();
  await throttle.admit(login, given.address);
  const person = await findForSignIn(db, login);
  nobody ??= hashPassword(crypto.randomUUID());
  const right = await verify(person?.passwordHash ?? (await nobody), given.password);
  if (!person || !person.passwordHash || !right) {
    await throttle.failed(login, given.address);
    throw new Refusal('wrong-sign-in', 'This name and password do not go together. Check both and try again.');
  }
  await throttle.succeeded(login);
  return person;
}

/** Whom a session names, as their own page has it; null where nobody is signed in. */
export async function signedInAs(
  db: Db,
  { school, person, token }: { school?: string; person?: string; token?: string },
): Promise<Me | null> {
  const found = school && person ? await findPerson(db, school, person) : null;
  return found && token ? ownAccount(db, found, token) : null;
}

export async function ownAccount(db: Db, person: Person, token: string): Promise<Me> {
  const school = await findSchool(db, person.school);
  const settings = await settingsOf(db, person.school, person.id);
  return { id: person.id, name: personName(person), role: person.role, school: school!.title, token, settings };
}
