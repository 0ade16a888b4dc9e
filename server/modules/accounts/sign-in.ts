import { verify } from '@node-rs/argon2';
import pLimit, { type LimitFunction } from 'p-limit';
import type { Me } from '@contract/accounts';
import { isProof, proofSeed } from '@contract/wire/sign-in-proof';
import type { Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { hashPassword } from './password';
import { settingsOf } from './sql/settings';
import { findForSignIn, findPerson, findSchool, personName, type Person } from './sql/persons';

/** Counts guesses and says what a try costs (http/throttle.ts). */
export interface Throttle<A = { account: string; address: string; browser: string | null }> {
  count(attempt: A): Promise<number>;
  giveBack(attempt: A): Promise<void>;
  succeeded(attempt: A): Promise<void>;
}

/** What somebody gives who wants to come in, and what is known of the browser that they use. */
export interface GivenSignIn {
  login: string;
  password: string;
  proof?: { challenge: string; nonce: number };
  address: string;
  /** This person has signed in with it before. */
  knows(person: Person): boolean;
  /** The bits that a challenge of ours asks for; 0 where it is none of ours for this account. */
  bitsOf(account: string, challenge: string): number;
  challenge(account: string, bits: number): string;
}

// Somebody who does not exist takes as long to refuse as somebody who does.
let nobody: Promise<string> | undefined;

/** Tries of one account are looked at one after the other. */
const turns = new Map<string, LimitFunction>();

/** The person whose name and password these are; refuses where they do not go together, or work is owed first. */
export async function identify(db: Db, throttle: Throttle, given: GivenSignIn): Promise<Person> {
  const account = given.login.trim().toLowerCase();
  let turn = turns.get(account);
  if (!turn) turns.set(account, (turn = pLimit(1)));
  try {
    return await turn(() => look(db, throttle, account, given));
  } finally {
    if (turn.activeCount + turn.pendingCount === 0) turns.delete(account);
  }
}

async function look(db: Db, throttle: Throttle, account: string, given: GivenSignIn): Promise<Person> {
  const person = await findForSignIn(db, account);
  const known = person !== null && given.knows(person);
  const attempt = { account, address: given.address, browser: known ? `${person.school} ${person.id}` : null };
  const bits = await throttle.count(attempt);
  if (bits > 0 && !isWorkedFor(given, account, bits)) {
    await throttle.giveBack(attempt);
    throw new Refusal(
      'slow-down',
      'Many wrong passwords were tried lately, so this takes a moment longer. Wait here.',
      {
        now: { challenge: given.challenge(account, bits), bits },
      },
    );
  }
  nobody ??= hashPassword(crypto.randomUUID());
  const right = await verify(person?.passwordHash ?? (await nobody), given.password);
  if (!person || !person.passwordHash || !right)
    throw new Refusal('wrong-sign-in', 'This name and password do not go together. Check both and try again.');
  await throttle.succeeded(attempt);
  return person;
}

function isWorkedFor({ proof, login, password, bitsOf }: GivenSignIn, account: string, bits: number): boolean {
  if (!proof || bitsOf(account, proof.challenge) < bits) return false;
  return isProof(proofSeed(proof.challenge, login, password), proof.nonce, bits);
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
  const { title, now } = school!;
  return { id: person.id, name: personName(person), role: person.role, school: title, token, settings, now };
}
