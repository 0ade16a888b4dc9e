/**
 * Text with formatting as it is kept: paragraphs, headings, lists, quotations, links. The form of its JSON is that of
 * ProseMirror documents, cut down to what people write; nothing of it is ever markup.
 */
export interface RichText {
  type: 'doc';
  content: Block[];
}
export type Block =
  | { type: 'paragraph'; content?: Inline[] }
  | { type: 'heading'; attrs: { level: 2 | 3 }; content?: Inline[] }
  | { type: 'bulletList' | 'orderedList'; content: ListItem[] }
  | { type: 'blockquote'; content: Block[] };
export interface ListItem {
  type: 'listItem';
  content: Block[];
}
export type Inline = { type: 'text'; text: string; marks?: Mark[] } | { type: 'hardBreak' };
export type Mark =
  { type: 'bold' | 'italic' | 'underline' | 'strike' | 'code' } | { type: 'link'; attrs: { href: string } };

/** How deep lists and quotations may stand in each other. */
export const MOST_DEPTH = 4;
/** Where a link may lead: to a page or a mailbox, never to a script. */
const LINK = /^(https?:\/\/|mailto:)[^\s<>"']+$/i;
const PLAIN_MARKS = ['bold', 'italic', 'underline', 'strike', 'code'] as const;

type Json = { type?: unknown; text?: unknown; attrs?: unknown; marks?: unknown; content?: unknown };

/** What an editor or a paste gives, in the kept form: what has no place in it is left out, its words stay. */
export function cleanRichText(doc: unknown): RichText {
  return { type: 'doc', content: blocksOf((doc as Json | null)?.content, 0) };
}

const listOf = (content: unknown): Json[] =>
  Array.isArray(content) ? content.filter((x): x is Json => typeof x === 'object' && x !== null) : [];

function blocksOf(content: unknown, depth: number): Block[] {
  return listOf(content).flatMap((node): Block[] => {
    const inner = inlineOf(node.content);
    switch (node.type) {
      case 'heading':
        return [
          { type: 'heading', attrs: { level: (node.attrs as { level?: number })?.level === 3 ? 3 : 2 }, ...inner },
        ];
      case 'bulletList':
      case 'orderedList': {
        const items = listOf(node.content)
          .map((item): ListItem => ({ type: 'listItem', content: blocksOf(item.content, depth + 1) }))
          .filter((item) => item.content.length > 0);
        // Deeper than may be, its words stand one after the other.
        if (depth >= MOST_DEPTH) return items.flatMap((item) => item.content);
        return items.length === 0 ? [] : [{ type: node.type, content: items }];
      }
      case 'blockquote': {
        const quoted = blocksOf(node.content, depth + 1);
        return depth >= MOST_DEPTH || quoted.length === 0 ? quoted : [{ type: 'blockquote', content: quoted }];
      }
      case 'paragraph':
        return [{ type: 'paragraph', ...inner }];
      case 'text':
        return [{ type: 'paragraph', ...inlineOf([node]) }];
      default:
        return blocksOf(node.content, depth);
    }
  });
}

function inlineOf(content: unknown): { content?: Inline[] } {
  const inline = listOf(content).flatMap((node): Inline[] => {
    if (node.type === 'hardBreak') return [{ type: 'hardBreak' }];
    if (node.type !== 'text' || typeof node.text !== 'string' || node.text === '') return [];
    const marks = listOf(node.marks).flatMap((mark): Mark[] => {
      const plain = PLAIN_MARKS.find((m) => m === mark.type);
      if (plain) return [{ type: plain }];
      const href = mark.type === 'link' ? (mark.attrs as { href?: unknown })?.href : null;
      return typeof href === 'string' && LINK.test(href) ? [{ type: 'link', attrs: { href } }] : [];
    });
    return [{ type: 'text', text: node.text, ...(marks.length > 0 ? { marks } : {}) }];
  });
  return inline.length > 0 ? { content: inline } : {};
}

/** Its words alone. */
export function wordsOf(text: RichText): string {
  const words = (node: Json): string =>
    node.type === 'text'
      ? String(node.text)
      : node.type === 'hardBreak'
        ? '\n'
        : listOf(node.content).map(words).join('');
  const lines = (nodes: readonly Block[]): string[] =>
    nodes.flatMap((b) =>
      b.type === 'bulletList' || b.type === 'orderedList'
        ? b.content.flatMap((i) => lines(i.content))
        : b.type === 'blockquote'
          ? lines(b.content)
          : [words(b as Json)],
    );
  return lines(text.content).join('\n');
}

export const isEmptyText = (text: RichText): boolean => wordsOf(text).trim() === '';
