import type { EntryContent } from '@core/book/change';

/** What a cell holds in a word or two: "14", "excused", "nothing". */
export function shortContent(content: EntryContent): string {
  if (content.state) return content.state === 'awaiting' ? 'awaited' : content.state;
  if (content.set !== undefined) return `${content.set}, set`;
  const last = [...(content.attempts ?? [])].reverse().find((a) => a.score !== undefined || a.mark !== undefined);
  if (last) return last.mark ?? String(last.score);
  return content.attempts?.length ? 'to mark' : 'nothing';
}
