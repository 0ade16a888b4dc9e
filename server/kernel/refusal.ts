import type { Code, PointedError } from '@contract/wire/problem';

/** Problems that the core found, as they cross the wire: the first twenty. */
export const toPointedErrors = (problems: readonly { at: string; says: string }[]): PointedError[] =>
  problems.slice(0, 20).map(({ at, says }) => ({ pointer: at, detail: says }));

/** A failure that the person is told about in a sentence: what happened, what was kept, what to do. */
export class Refusal extends Error {
  constructor(
    readonly code: Code,
    readonly detail: string,
    readonly more: { errors?: PointedError[]; now?: unknown } = {},
  ) {
    super(`${code}: ${detail}`);
  }
}
