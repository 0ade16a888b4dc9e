import * as Y from 'yjs';
import { cleanRichText, wordsOf, type RichText } from '@core/text/rich-text';

/** The part of the document that the text stands in. */
export const NOTE_FRAGMENT = 'note';
/** Characters of an end note at most, and bytes of all that was ever typed of it. */
export const MOST_CHARACTERS = 50_000;
export const MOST_BYTES = 2_000_000;

type Json = Record<string, unknown>;

const isFilled = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && Object.keys(value).length > 0;

/** Pieces of a text with their marks, as its document has them. */
function inline(text: Y.XmlText): Json[] {
  return (text.toDelta() as { insert: unknown; attributes?: Record<string, unknown> }[]).flatMap((d) => {
    if (typeof d.insert !== 'string') return [];
    const marks = Object.entries(d.attributes ?? {}).map(([name, attrs]) => {
      // Marks that may overlap themselves carry a hash behind their name.
      const type = name.split('--')[0]!;
      return isFilled(attrs) ? { type, attrs } : { type };
    });
    return [{ type: 'text', text: d.insert, ...(marks.length > 0 ? { marks } : {}) }];
  });
}

function node(element: Y.XmlElement): Json {
  const attrs = element.getAttributes() as Json;
  return {
    type: element.nodeName,
    ...(Object.keys(attrs).length > 0 ? { attrs } : {}),
    content: element.toArray().flatMap((c) => (c instanceof Y.XmlText ? inline(c) : c instanceof Y.XmlElement ? [node(c)] : [])), // prettier-ignore
  };
}

/** What a note says, as text with formatting in the kept form: what has no place in it is left out, its words stay. */
export function noteText(doc: Y.Doc): RichText {
  const content = doc
    .getXmlFragment(NOTE_FRAGMENT)
    .toArray()
    .flatMap((c) => (c instanceof Y.XmlElement ? [node(c)] : c instanceof Y.XmlText ? inline(c) : []));
  return cleanRichText({ type: 'doc', content });
}

/** A document from its state. Throws what Yjs throws on bytes that are no update. */
export function docOf(...updates: Uint8Array[]): Y.Doc {
  const doc = new Y.Doc();
  for (const u of updates) Y.applyUpdate(doc, u);
  return doc;
}

export const noteLength = (doc: Y.Doc): number => wordsOf(noteText(doc)).length;
