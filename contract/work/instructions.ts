import { Type } from '@sinclair/typebox';
import type { RichText as RichTextValue } from '@core/text/rich-text';
import { fileProperties, Id, Maybe, Operation, Shape, Version, type Static } from '../wire';

/**
 * Text with formatting, in the form of core/text/rich-text: what is within is looked at by the server, which takes nothing
 * else.
 */
export const RichText = Type.Unsafe<RichTextValue>(
  Shape({ type: Type.Literal('doc'), content: Type.Array(Type.Unknown(), { maxItems: 1_000 }) }),
);
export type RichText = RichTextValue;

/** A file that goes with an assessment: to be read, or a worksheet of which every student takes a copy of their own. */
export const Handout = Shape({
  ...fileProperties,
  worksheet: Type.Boolean(),
});
export type Handout = Static<typeof Handout>;

/** GET /books/{book}/assessments/{assessment}/instructions. `version` 0: none were written. */
export const Instructions = Shape({ version: Version, body: Maybe(RichText), files: Type.Array(Handout) });
export type Instructions = Static<typeof Instructions>;

/** PUT …/instructions: null takes them away. */
export const InstructionsWrite = Shape({ operation: Operation, version: Version, body: Maybe(RichText) });
export type InstructionsWrite = Static<typeof InstructionsWrite>;

/** POST …/handouts: a file is to come; its id is chosen by the page, so that it is added once. */
export const HandoutWrite = Shape({
  operation: Operation,
  id: Id,
  name: Type.String({ minLength: 1, maxLength: 255, pattern: '\\S' }),
  bytes: Type.Integer({ minimum: 0, maximum: 1_000_000_000_000 }),
  worksheet: Type.Boolean(),
});
export type HandoutWrite = Static<typeof HandoutWrite>;
export const HandoutRemoval = Shape({ operation: Operation });
export type HandoutRemoval = Static<typeof HandoutRemoval>;
