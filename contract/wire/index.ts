import { Type, type Static, type TSchema, type TProperties } from '@sinclair/typebox';
/** Pieces that all schemas are made of. Objects take no further keys: what is not declared is refused. */
export const Shape = <T extends TProperties>(properties: T) => Type.Object(properties, { additionalProperties: false });
export const Choice = <T extends string>(...values: T[]) => Type.Unsafe<T>({ type: 'string', enum: values });
export const Maybe = <T extends TSchema>(schema: T) => Type.Union([schema, Type.Null()]);

export const Id = Type.String({ pattern: '^[A-Za-z0-9._-]{1,64}$' });
/** Something is to be read in it. */
const NOT_BLANK = '\\S';
export const Title = Type.String({ minLength: 1, maxLength: 200, pattern: NOT_BLANK });
export const Moment = Type.String({ format: 'date-time', maxLength: 40 });
export const Version = Type.Integer({ minimum: 0 });
/** Points or percents: not negative, at most four decimals, at most 10^9. */
export const Amount = Type.Number({ minimum: 0, maximum: 1_000_000_000, 'x-decimals': 4 });
/** A book, or `book~assessment`: one assessment of it, looked at without names. */
export const BookAddress = Type.String({ pattern: '^[A-Za-z0-9._-]{1,64}(~[A-Za-z0-9._-]{1,64})?$' });

/** Chosen by the caller, so that a write that is tried again happens once. */
export const Operation = Type.String({ pattern: '^[A-Za-z0-9-]{8,64}$' });
export const Reason = Type.String({ maxLength: 500 });

/** What is told of every file that is on its way or there. To be spread into the shape of one. */
export const fileProperties = {
  id: Id,
  name: Type.String(),
  bytes: Version,
  /** Bytes that are here. */
  received: Version,
  upload: Id,
  /** Once all of it is here, with its hash. */
  sha256: Maybe(Type.String()),
  mediaType: Maybe(Type.String()),
};

export type { Static, TSchema };

export const Made = Shape({ made: Version });
export type Made = Static<typeof Made>;

export const Done = Shape({ done: Type.Literal(true) });
