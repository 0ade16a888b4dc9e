import { Type } from '@sinclair/typebox';
import { Choice, Shape, type Static } from '.';

/** The codes of problem+json (RFC 9457) answers; each has one status. */
export const CODES = {
  'not-signed-in': 401,
  'wrong-sign-in': 401,
  'slow-down': 429,
  'not-allowed': 403,
  'not-genuine': 403,
  'names-hidden': 403,
  'not-found': 404,
  'bad-request': 400,
  stale: 409,
  'already-there': 409,
  'operation-used': 409,
  'cannot-undo': 409,
  'too-large': 413,
  'bad-range': 416,
  unavailable: 503,
  broken: 500,
} as const;
export type Code = keyof typeof CODES;

/** Where in what was sent (JSON pointer, RFC 6901; '' as a whole), and what is wrong with it. */
export const PointedError = Shape({ pointer: Type.String(), detail: Type.String() });
export type PointedError = Static<typeof PointedError>;

/** RFC 9457. `detail` is for the person: what happened, what was kept, what to do. `errors` point into what was sent. */
export const Problem = Shape({
  type: Type.String(),
  title: Type.String(),
  status: Type.Integer(),
  code: Choice(...(Object.keys(CODES) as Code[])),
  detail: Type.String(),
  errors: Type.Optional(Type.Array(PointedError)),
  /** With `stale`: what is kept now. */
  now: Type.Optional(Type.Unknown()),
});
export type Problem = Static<typeof Problem>;
