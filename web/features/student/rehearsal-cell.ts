import { changeCell, type EntryContent } from '@core/book/change';
import { readTyped, STATE_WORDS, type TypedContext } from '@core/import/typed';

/** What stands in the box of a made-up score: what would be typed into the ledger. */
export function typedOf(entry: EntryContent): string {
  const attempt = entry.attempts?.at(-1);
  if (entry.state) return STATE_WORDS.find((s) => s.state === entry.state)!.word;
  if (attempt?.mark !== undefined) return attempt.mark;
  return attempt?.score === undefined ? '' : String(attempt.score);
}

/** When the made-up student handed it in; null: not at all. */
export const receivedOf = (entry: EntryContent): string | null => entry.attempts?.at(-1)?.receivedAt ?? null;

/** The entry with a score, mark or state typed as in the ledger, or the sentence that says why it cannot be read. */
export function withTyped(
  entry: EntryContent,
  text: string,
  context: TypedContext,
): { entry: EntryContent } | { message: string } {
  const typed = readTyped(text, context);
  if (typed.kind === 'refused') return { message: typed.message };
  return { entry: changeCell(entry, typed.kind === 'blank' ? { kind: 'clear' } : typed.change) };
}

/** The entry handed in at a moment, or not handed in. */
export function withReceived(entry: EntryContent, at: string | null): EntryContent {
  const [last] = entry.attempts?.slice(-1) ?? [];
  if (at !== null)
    return last ? changeCell(entry, { kind: 'late-at', receivedAt: at }) : changeCell(entry, { kind: 'received', at });
  if (!last) return entry;
  const { receivedAt: _gone, ...kept } = last;
  const bare = kept.score === undefined && kept.mark === undefined;
  return changeCell(entry, {
    kind: 'put',
    entry: { ...entry, attempts: [...entry.attempts!.slice(0, -1), ...(bare ? [] : [kept])] },
  });
}
