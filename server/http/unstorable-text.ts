import type { IncomingMessage } from 'node:http';
import { Refusal } from '../kernel/refusal';

/** A character that no text of the database can hold, or half of one. */
const ODD = /\0|\p{Cs}/u;

/** Requests whose body writes some character by its number: almost none does, and only these are looked through. */
const numbered = new WeakSet<IncomingMessage>();

/** Notes it of a body that was read, as it came. */
export function noteNumbered(request: IncomingMessage, text: Buffer | string): void {
  if (text.includes('\\u')) numbered.add(request);
}

/** Refuses a request with a text that cannot be kept as it is. */
export function requireKeepable(request: IncomingMessage, body: unknown): void {
  if (/%00/.test(request.url ?? '')) throw new Refusal('not-found', 'There is nothing at this address.');
  if (!numbered.has(request)) return;
  const at = oddIn(body, '');
  if (at === null) return;
  const says = 'a character in it cannot be kept';
  throw new Refusal(
    'bad-request',
    `What was sent cannot be used (${at || 'as a whole'}: ${says}). Nothing was changed.`,
    { faults: [{ at, says }] },
  );
}

/** Where in a value the first such text stands, as a JSON pointer; null: nowhere. */
function oddIn(value: unknown, at: string): string | null {
  if (typeof value === 'string') return ODD.test(value) ? at : null;
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, part] of Object.entries(value)) {
    const found = ODD.test(key) ? at : oddIn(part, `${at}/${key}`);
    if (found !== null) return found;
  }
  return null;
}
