import { Type } from '@sinclair/typebox';
import type { RulesPart } from '@core/book/change';
import type { ItemSettings } from '@core/trial/wish';
import { CellChangeSchema } from './entries';
import { Id, Moment, Shape, Title, Version, type Static } from './wire';

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
