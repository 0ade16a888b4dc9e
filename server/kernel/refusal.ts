import type { Code } from '@contract/problem';

/** A failure that the person is told about in a sentence: what happened, what was kept, what to do. */
export class Refusal extends Error {
  constructor(
    readonly code: Code,
    readonly says: string,
    readonly more: { faults?: { at: string; says: string }[]; now?: unknown } = {},
  ) {
    super(`${code}: ${says}`);
  }
}
