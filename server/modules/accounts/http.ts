import { verify } from '@node-rs/argon2';
import { Done, MaybeMe, Me, Setup, SignIn } from '@contract/people';
import { transaction } from '../../kernel/database';
import { isTimeZone } from '@core/time/local-days';
import { Refusal } from '../../kernel/refusal';
import { route, type Route } from '../../http/route';
import { beginSession, endSession } from '../../http/sessions';
import { type SignInThrottle } from '../../http/throttle';
import {
  findSchool,
  type Person,
  personName,
  findForSignIn,
  findPerson,
  anySchool,
  insertSchool,
  insertPeople,
} from './sql/persons';
import { hashPassword } from './password';

// argon2id with 19 MiB, 2 passes, 1 lane: the least that current guidance names.
// Somebody who does not exist takes as long to refuse as somebody who does.
let nobody: Promise<string> | undefined;

async function me(pool: Parameters<typeof findSchool>[0], person: Person, token: string) {
  const school = await findSchool(pool, person.school);
  return { id: person.id, name: personName(person), role: person.role, school: school!.title, token };
}

export function signInRoutes(throttle: SignInThrottle): Route[] {
  return [
    route({
      method: 'post',
      path: '/session',
      permission: 'anyone',
      says: 'Sign in.',
      body: SignIn,
      answer: Me,
      async does({ pool, body, request }) {
        const login = body.login.trim().toLowerCase();
        const address = request.ip ?? 'unknown';
        await throttle.admit(login, address);
        const person = await findForSignIn(pool, login);
        nobody ??= hashPassword(crypto.randomUUID());
        const right = await verify(person?.passwordHash ?? (await nobody), body.password);
        if (!person || !person.passwordHash || !right) {
          await throttle.failed(login, address);
          throw new Refusal('wrong-sign-in', 'This name and password do not go together. Check both and try again.');
        }
        await throttle.succeeded(login);
        return me(pool, person, await beginSession(request, { school: person.school, person: person.id }));
      },
    }),
    route({
      method: 'get',
      path: '/session',
      permission: 'anyone',
      says: 'Who is signed in, if anybody.',
      answer: MaybeMe,
      async does({ pool, request }) {
        const { school, person, token } = request.session;
        const found = school && person ? await findPerson(pool, school, person) : null;
        return { me: found && token ? await me(pool, found, token) : null };
      },
    }),
    route({
      method: 'delete',
      path: '/session',
      permission: 'signed-in',
      says: 'Sign out.',
      answer: Done,
      async does({ request, response }) {
        await endSession(request);
        response.clearCookie('last-tally', { path: '/' });
        return { done: true as const };
      },
    }),
    route({
      method: 'post',
      path: '/setup',
      permission: 'anyone',
      says: 'The first set-up: a school and its first administrator. Works once, with the token of the start command.',
      body: Setup,
      answer: Done,
      async does({ pool, config, body }) {
        if (config.setupToken === '' || body.token !== config.setupToken)
          throw new Refusal('not-allowed', 'The first set-up needs the token that the start command gives.');
        if (!isTimeZone(body.school.timeZone))
          throw new Refusal('bad-request', `“${body.school.timeZone}” is no time zone. Nothing was made.`);
        const passwordHash = await hashPassword(body.administrator.password);
        await transaction(pool, async (db) => {
          await db.query('lock table school in exclusive mode');
          if (await anySchool(db)) throw new Refusal('already-there', 'This server has a school already.');
          await insertSchool(db, body.school);
          const { login, family, given } = body.administrator;
          await insertPeople(db, body.school.id, [
            { login, family, given, number: '', mail: '', role: 'administrator', passwordHash },
          ]);
        });
        return { done: true as const };
      },
    }),
  ];
}
