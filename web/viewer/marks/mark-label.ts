import type { BoardMark } from './board-mark';

const KINDS = { highlight: 'Highlight', strike: 'Struck', note: 'Margin note', text: 'Text', pen: 'Drawing' };

/** What a mark is in words, for whoever does not see it. */
export function markLabel({ mark, by }: BoardMark): string {
  const over = mark.quote ? ` over “${short(mark.quote.exact)}”` : '';
  const better = mark.wording ? `, better “${short(mark.wording)}”` : '';
  const says = mark.comment ? `: ${mark.comment}` : '';
  return `${KINDS[mark.kind]}${over}${better}${says}${by ? ` (${by})` : ''}`;
}

const short = (text: string): string => {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length > 60 ? `${line.slice(0, 59)}…` : line;
};
