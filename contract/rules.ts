import { Type } from '@sinclair/typebox';
import type { RulesPart } from '@core/book/change';
import type { ItemSettings } from '@core/proposal/proposal';
import { CellChangeSchema } from './scores';
import { Id, Moment, Shape, Title, Version, type Static, Operation, Reason } from './wire';
/** What is tried, as a page can take it up again. It is checked by the core whenever it is tried or made. */
export const TrialBody = Shape({
  /** The version of the rules that it was tried against. */
  version: Version,
  rules: Type.Unsafe<RulesPart>({ type: 'object' }),
  items: Type.Unsafe<Record<string, ItemSettings>>({ type: 'object' }),
  supposed: Type.Array(
    Shape({
      says: Type.String({ maxLength: 500 }),
      cells: Type.Array(Shape({ student: Id, item: Id, change: CellChangeSchema, version: Version }), {
        maxItems: 50_000,
      }),
    }),
    { maxItems: 100 },
  ),
});
export type TrialBody = Static<typeof TrialBody>;

/** PUT /books/{book}/trials/{trial}: keeps a trial beside the rules, for the person alone. */
export const TrialWrite = Shape({ title: Title, body: TrialBody });
export type TrialWrite = Static<typeof TrialWrite>;
export const KeptTrial = Shape({ id: Id, title: Title, madeAt: Moment, body: TrialBody });
export type KeptTrial = Static<typeof KeptTrial>;
export const KeptTrials = Type.Array(KeptTrial);
export type KeptTrials = Static<typeof KeptTrials>;

/** Rules and groups of a book; checked as a whole by the core against the book's items. */
export const RulesWrite = Shape({
  operation: Operation,
  version: Version,
  reason: Reason,
  rules: Type.Unsafe<RulesPart>({ type: 'object' }),
  /** Assessments whose settings change with the rules: all the keys of the contract's item that rules know. */
  items: Type.Optional(
    Type.Array(Shape({ assessment: Id, version: Version, more: Type.Unsafe<ItemSettings>({ type: 'object' }) }), {
      maxItems: 2_000,
    }),
  ),
  /** Scores and states that were supposed and are made with the rules. */
  cells: Type.Optional(
    Type.Array(Shape({ assessment: Id, enrolment: Id, version: Version, change: CellChangeSchema }), {
      maxItems: 50_000,
    }),
  ),
});
export type RulesWrite = Static<typeof RulesWrite>;

export const RulesState = Shape({ version: Version, rules: Type.Unsafe<RulesPart>({ type: 'object' }), seq: Version });
export type RulesState = Static<typeof RulesState>;
