import { Type } from '@sinclair/typebox';
import { Choice, Id, Maybe, Moment, Shape, Title, type Static } from './wire';
import { Text } from './people';
import { PersonSettings } from './settings';
import { Statement } from './work/submissions';

export const Role = Choice('administrator', 'staff', 'student');
export type Role = Static<typeof Role>;

export const SignIn = Shape({
  login: Type.String({ minLength: 1, maxLength: 120 }),
  password: Type.String({ minLength: 1, maxLength: 200 }),
  /** Work done for a challenge (sign-in-proof.ts), where the answer before asked for it. */
  proof: Type.Optional(
    Shape({ challenge: Type.String({ maxLength: 200 }), nonce: Type.Integer({ minimum: 0, maximum: 2 ** 48 }) }),
  ),
});
export type SignIn = Static<typeof SignIn>;

/** With `slow-down` at signing in, as `now`: what is to be worked for before the try is looked at. */
export const SignInChallenge = Shape({ challenge: Type.String(), bits: Type.Integer({ minimum: 1, maximum: 32 }) });
export type SignInChallenge = Static<typeof SignInChallenge>;

/** Who is signed in. `token` goes back in the header X-Last-Tally-Token with every change. */
export const Me = Shape({
  id: Id,
  name: Type.String(),
  role: Role,
  school: Title,
  token: Type.String(),
  settings: PersonSettings,
  /** The moment that counts in the school now, by its own clock. */
  now: Moment,
});
export type Me = Static<typeof Me>;
/** `hasSchool` false: nothing was begun on this server yet, and there is nobody to sign in as. */
export const MaybeMe = Shape({ me: Maybe(Me), hasSchool: Type.Boolean() });
export type MaybeMe = Static<typeof MaybeMe>;

const Login = Type.String({ pattern: '^[a-z0-9][a-z0-9._@-]{1,119}$' });
const Password = Type.String({ minLength: 8, maxLength: 200 });

/** The first set-up of a server: a school and its first administrator. Works once, with the token of the start command. */
export const NewPeople = Shape({
  people: Type.Array(
    Shape({
      login: Login,
      family: Title,
      given: Type.String({ maxLength: 100 }),
      number: Type.String({ maxLength: 60 }),
      mail: Type.String({ maxLength: 200 }),
      role: Role,
      password: Maybe(Password),
    }),
    { minItems: 1, maxItems: 2_000 },
  ),
});
export type NewPeople = Static<typeof NewPeople>;

export const NewTerm = Shape({
  id: Id,
  title: Title,
  starts: Type.String({ format: 'date' }),
  ends: Type.String({ format: 'date' }),
});
export type NewTerm = Static<typeof NewTerm>;

/** POST /setup: the first school with its administrator and, if it is wanted at once, its first term. `code`: what the terminal printed. */
export const Setup = Shape({
  code: Type.String({ maxLength: 200 }),
  school: Shape({ id: Id, title: Title, timeZone: Type.String({ maxLength: 60 }) }),
  administrator: Shape({ login: Login, family: Title, given: Type.String({ maxLength: 100 }), password: Password }),
  term: Maybe(NewTerm),
});
export type Setup = Static<typeof Setup>;

/** POST /books/{book}/invitations and /invitations: who may give themselves a password. `mail`: sent to them as well. */
export const InvitationsWrite = Shape({
  logins: Type.Array(Text(120), { minItems: 1, maxItems: 2_000 }),
  mail: Type.Optional(Type.Boolean()),
});

export const Invitations = Shape({
  invitations: Type.Array(
    Shape({ login: Type.String(), name: Type.String(), path: Type.String(), until: Moment, mailed: Type.Boolean() }),
  ),
});
export type Invitations = Static<typeof Invitations>;

/** POST /forgotten: a sign-in name or a mail address. What it answers says nothing of whether there is such an account. */
export const Forgotten = Shape({ name: Type.String({ minLength: 1, maxLength: 200, pattern: '\\S' }) });
/** Whether mail leaves this installation at all. */
export const ForgottenAnswer = Shape({ mails: Type.Boolean() });
export type ForgottenAnswer = Static<typeof ForgottenAnswer>;

/** POST /welcome: a link's secret and the password that its bearer chose. */
export const Welcome = Shape({
  secret: Type.String({ minLength: 20, maxLength: 100 }),
  password: Type.String({ minLength: 8, maxLength: 200 }),
});

export const Welcomed = Shape({ login: Type.String() });

/** What is left out stays. */
export const SchoolSettings = Shape({
  wantsReasons: Type.Optional(Type.Boolean()),
  statement: Type.Optional(Statement),
  hidesNames: Type.Optional(Type.Boolean()),
});
export type SchoolSettings = Static<typeof SchoolSettings>;
