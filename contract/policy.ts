import { Type } from '@sinclair/typebox';
import type { Deviation } from '@core/policy/deviations';
import { POLICY_AREAS, type SchoolRules } from '@core/policy/document';
import { Choice, Id, Maybe, Moment, Operation, Shape, Title, Version, type Static } from './wire';

/** Checked as a whole by the core (docs/formats/school-rules.md). */
const Rules = Type.Unsafe<SchoolRules>({ type: 'object' });
const Said = Type.String({ minLength: 1, maxLength: 500, pattern: '\\S' });

/** GET /school-rules: what is in force. Version 0: the office has said nothing yet. */
export const SchoolRulesState = Shape({
  version: Version,
  rules: Rules,
  made: Maybe(Shape({ at: Moment, by: Type.String(), reason: Type.String() })),
});
export type SchoolRulesState = Static<typeof SchoolRulesState>;

export const SchoolRulesVersions = Type.Array(
  Shape({ version: Version, rules: Rules, at: Moment, by: Type.String(), reason: Type.String() }),
);
export type SchoolRulesVersions = Static<typeof SchoolRulesVersions>;

/** PUT /school-rules: a new version, which goes through the books of terms that have not ended. */
export const SchoolRulesWrite = Shape({ operation: Operation, version: Version, reason: Said, rules: Rules });
export type SchoolRulesWrite = Static<typeof SchoolRulesWrite>;
/** `turn`: its way through the books. */
export const SchoolRulesMade = Shape({ version: Version, rollout: Id });
export type SchoolRulesMade = Static<typeof SchoolRulesMade>;

/** POST /school-rules/rollouts: what a version would do to every book; nothing is changed. */
export const SchoolTrialWrite = Shape({ id: Id, version: Version, rules: Rules });
export type SchoolTrialWrite = Static<typeof SchoolTrialWrite>;

/** What comes of one book. `stays`: it changes nothing in it; `refused`: it cannot take it on, `says` why. */
export const RolloutBook = Shape({
  book: Id,
  title: Title,
  term: Title,
  state: Choice('waits', 'stays', 'takes', 'refused'),
  says: Type.String(),
  students: Version,
  up: Version,
  down: Version,
  /** Across a letter's edge. */
  crossing: Version,
  /** Movers who read a standing now. */
  readers: Version,
  /** In what it departs from the rules as they would be. */
  departs: Type.Array(Choice(...POLICY_AREAS)),
});
export type RolloutBook = Static<typeof RolloutBook>;

export const PolicyRollout = Shape({
  id: Id,
  kind: Choice('trial', 'make'),
  version: Version,
  books: Type.Array(RolloutBook),
});
export type PolicyRollout = Static<typeof PolicyRollout>;

const Standing = Shape({ percent: Maybe(Type.String()), letter: Maybe(Type.String()) });
/** GET /school-rules/rollouts/{rollout}/books/{book}: who would move in one book, the largest moves first. */
export const RolloutMovers = Type.Array(
  Shape({ enrolment: Id, name: Type.String(), before: Standing, after: Standing, moves: Maybe(Type.String()) }),
);
export type RolloutMovers = Static<typeof RolloutMovers>;

/** A departure with the title of what it is in, and the change that brought it. */
export const BookDeviation = Shape({
  departure: Type.Unsafe<Deviation>({ type: 'object' }),
  title: Type.String(),
  /** Null where nobody can say. */
  since: Maybe(Shape({ at: Moment, by: Type.String(), reason: Type.String() })),
});
export type BookDeviation = Static<typeof BookDeviation>;
/** GET /books/{book}/deviations */
export const BookDeviations = Type.Array(BookDeviation);
export type BookDeviations = Static<typeof BookDeviations>;
/** GET /school-rules/deviations: the books that depart, of terms that have not ended. */
export const SchoolDeviations = Type.Array(Shape({ book: Id, title: Title, term: Title, departures: BookDeviations }));
export type SchoolDeviations = Static<typeof SchoolDeviations>;
