import type { IncomingMessage } from 'node:http';
import { Refusal } from '../kernel/refusal';

/** A character that no text of the database can hold, or half of one. */
const UNSTORABLE = /\0|\p{Cs}/u;

/** Requests whose body writes some character by its number: almost none does, and only these are looked through. */
const withEscapes = new WeakSet<IncomingMessage>();

/** Notes it of a body that was read, as it came. */
export function noteEscapes(request: IncomingMessage, text: Buffer | string): void {
  if (text.includes('\\u')) withEscapes.add(request);
}

/** Refuses a request with a text that cannot be kept as it is. */
export function requireStorable(request: IncomingMessage, body: unknown): void {
  if (/%00/.test(request.url ?? '')) throw new Refusal('not-found', 'There is nothing at this address.');
  if (!withEscapes.has(request)) return;
  const at = unstorableIn(body, '');
  if (at === null) return;
  const detail = 'a character in it cannot be kept';
  throw new Refusal(
    'bad-request',
    `What was sent cannot be used (${at || 'as a whole'}: ${detail}). Nothing was changed.`,
    { errors: [{ pointer: at, detail }] },
  );
}

/** Where in a value the first such text stands, as a JSON pointer; null: nowhere. */
function unstorableIn(value: unknown, at: string): string | null {
  if (typeof value === 'string') return UNSTORABLE.test(value) ? at : null;
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, part] of Object.entries(value)) {
    const found = UNSTORABLE.test(key) ? at : unstorableIn(part, `${at}/${key}`);
    if (found !== null) return found;
  }
  return null;
}
