import { MaybeMe, Me, NewPeople, SchoolSettings, Setup, SignIn } from '@contract/accounts';
import { PersonSettings } from '@contract/settings';
import { Done, Made } from '@contract/wire';
import { LONG_LIST, route, type Route } from '../../http/route';
import { bitsOf, knowsPerson, makeChallenge, rememberPerson } from '../../http/known-browser';
import { beginSession, endSession } from '../../http/sessions';
import { addPeople } from './add-people';
import { makeFirstSchool, type MakeTerm } from './first-school';
import { identify, ownAccount, signedInAs, type Throttle } from './sign-in';
import { anySchool, updateSchool } from './sql/persons';
import { putSettings } from './sql/settings';

export const accountsRoutes = (throttle: Throttle, makeTerm: MakeTerm): Route[] => [
  route({
    method: 'post',
    path: '/session',
    permission: 'anyone',
    summary: 'Sign in.',
    body: SignIn,
    answer: Me,
    async handler({ pool, body, request, response, config }) {
      const { sessionSecret: secret } = config;
      const person = await identify(pool, throttle, {
        ...body,
        address: request.ip ?? 'unknown',
        knows: (known) => knowsPerson(request, secret, known),
        bitsOf: (account, challenge) => bitsOf(secret, account, challenge, Date.now()),
        challenge: (account, bits) => makeChallenge(secret, account, bits, Date.now()),
      });
      rememberPerson(request, response, config, person);
      return ownAccount(pool, person, await beginSession(request, { school: person.school, person: person.id }));
    },
  }),
  route({
    method: 'get',
    path: '/session',
    permission: 'anyone',
    summary: 'Who is signed in, if anybody.',
    answer: MaybeMe,
    async handler({ pool, request }) {
      const me = await signedInAs(pool, request.session);
      return { me, hasSchool: me !== null || (await anySchool(pool)) };
    },
  }),
  route({
    method: 'delete',
    path: '/session',
    permission: 'signed-in',
    summary: 'Sign out.',
    answer: Done,
    async handler({ request, response }) {
      await endSession(request);
      response.clearCookie('last-tally', { path: '/' });
      return { done: true as const };
    },
  }),
  route({
    method: 'put',
    path: '/settings',
    permission: 'signed-in',
    summary: 'What one sets for oneself: dates and decimals, colours, density.',
    body: PersonSettings,
    answer: Done,
    async handler({ pool, person, body }) {
      await putSettings(pool, person.school, person.id, body);
      return { done: true as const };
    },
  }),
  route({
    method: 'post',
    path: '/setup',
    permission: 'anyone',
    summary:
      'The first set-up: a school, its first administrator and term. Works once, with the code that was printed.',
    body: Setup,
    answer: Done,
    async handler({ pool, config, body }) {
      await makeFirstSchool(pool, config.demoClock, body, makeTerm);
      return { done: true as const };
    },
  }),
  route({
    method: 'post',
    path: '/people',
    permission: 'office',
    summary: 'Add people, all or none. A password of null makes somebody who cannot sign in yet.',
    body: NewPeople,
    maxBytes: LONG_LIST,
    answer: Made,
    status: 201,
    async handler({ pool, school, body }) {
      return { made: await addPeople(pool, school, body) };
    },
  }),
  route({
    method: 'patch',
    path: '/school',
    permission: 'office',
    summary: 'Whether every exception needs a reason, and what students tick before they hand in.',
    body: SchoolSettings,
    answer: Done,
    async handler({ pool, school, body }) {
      await updateSchool(pool, school, body);
      return { done: true as const };
    },
  }),
];
