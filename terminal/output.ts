import type { Checked } from '@core/book/checks/check';
import type { Problem } from '@core/book/checks/problems';

/** Writes to standard output and waits where the reader is slower. */
export async function write(text: string): Promise<void> {
  if (!process.stdout.write(text)) await new Promise((done) => process.stdout.once('drain', done));
}

export interface Refusal {
  problems: Problem[];
  more?: number;
}

export const problemsOf = (checked: Checked & { ok: false }): Refusal =>
  checked.more > 0 ? { problems: checked.problems, more: checked.more } : { problems: checked.problems };

/** Problems on standard error, and the exit code for them. */
export function refuse(refusal: Refusal & { file?: string }): number {
  process.stderr.write(JSON.stringify(refusal, null, 1) + '\n');
  return 2;
}

/** A refusal with one sentence of our own. */
export const refuseWith = (says: string): number => refuse({ problems: [{ at: '', says }] });
