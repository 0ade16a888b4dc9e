import { MOST, type Block, type ReadDocument, type Run } from './model';

type Look = Omit<Run, 'text'>;

const LOOKS: Record<string, Look> = {
  STRONG: { bold: true },
  B: { bold: true },
  EM: { italic: true },
  I: { italic: true },
  U: { underlined: true },
  SUP: { raised: true },
  SUB: { lowered: true },
};
/** Pictures as they stand in the markup, by their bytes. */
const PICTURE = /^data:(image\/(?:png|jpeg|gif|webp));base64,([A-Za-z0-9+/=\s]*)$/;

/**
 * Takes markup apart into what a document is made of. It is read without being put into the page: what it names is not
 * fetched, what is programmed in it is not run, and what is not known here is left out.
 */
export function fromMarkup(html: string): ReadDocument {
  const document: ReadDocument = { kind: 'document', blocks: [], notes: [], cut: false };
  let [size, pictures, blocks] = [0, 0, 0];

  const put = (into: Block[], block: Block): void => {
    if (++blocks > MOST.blocks) document.cut = true;
    else into.push(block);
  };
  const words = (node: Node, look: Look, runs: Run[], into: Block[]): void => {
    for (const child of node.childNodes) {
      if (child.nodeType === Node.TEXT_NODE) {
        const text = child.textContent ?? '';
        size += text.length;
        if (size > MOST.characters) document.cut = true;
        else if (text !== '') runs.push({ text, ...look });
      } else if (child instanceof Element) {
        const address = child.tagName === 'A' ? (child.getAttribute('href') ?? '') : '';
        if (child.tagName === 'BR') runs.push({ text: '\n', ...look });
        else if (child.tagName === 'IMG') picture(child, into);
        else
          words(
            child,
            { ...look, ...LOOKS[child.tagName], ...(/^https?:\/\//i.test(address) ? { link: address } : {}) },
            runs,
            into,
          );
      }
    }
  };
  const picture = (element: Element, into: Block[]): void => {
    const [, type, data] = PICTURE.exec(element.getAttribute('src') ?? '') ?? [];
    if (type === undefined || data === undefined) return;
    const bytes = Uint8Array.from(atob(data.replace(/\s/g, '')), (c) => c.charCodeAt(0));
    pictures += bytes.length;
    if (pictures > MOST.pictures) document.cut = true;
    else put(into, { kind: 'picture', bytes, type, words: element.getAttribute('alt') || 'a picture' });
  };
  const text = (element: Element, level: number, into: Block[], item?: { depth: number; marker: string }): void => {
    const runs: Run[] = [];
    const place = into.length;
    words(element, {}, runs, into);
    // Pictures within a paragraph stand after its words.
    if (runs.length > 0 || into.length === place)
      into.splice(place, 0, { kind: 'text', level, runs, ...(item ? { item } : {}) });
  };
  const list = (element: Element, depth: number, into: Block[]): void => {
    [...element.children].forEach((li, i) => {
      const marker = element.tagName === 'OL' ? `${i + 1}.` : '–';
      const own = li.cloneNode(true) as Element;
      for (const inner of own.querySelectorAll('ul, ol')) inner.remove();
      text(own, 0, into, { depth, marker });
      for (const inner of li.children) if (/^[UO]L$/.test(inner.tagName)) list(inner, depth + 1, into);
    });
  };
  const all = (element: Element, into: Block[]): void => {
    for (const child of element.children) {
      const heading = /^H([1-6])$/.exec(child.tagName);
      if (heading) text(child, Number(heading[1]), into);
      else if (/^[UO]L$/.test(child.tagName)) {
        // Notes come as a list at the end, each with a way back.
        if (child.querySelector(':scope > li[id*="note-"]')) notes(child);
        else list(child, 1, into);
      } else if (child.tagName === 'TABLE') table(child, into);
      else if (child.tagName === 'P') text(child, 0, into);
      else all(child, into);
    }
  };
  const notes = (element: Element): void => {
    for (const li of element.children) {
      const runs: Run[] = [];
      words(li, {}, runs, []);
      document.notes.push(runs.filter((r) => r.text.trim() !== '↑'));
    }
  };
  const table = (element: Element, into: Block[]): void => {
    const rows = [...element.querySelectorAll('tr')]
      .filter((tr) => tr.closest('table') === element)
      .map((tr) =>
        [...tr.children].map((td) => {
          const cell: Block[] = [];
          if (td.children.length > 0) all(td, cell);
          else text(td, 0, cell);
          return cell;
        }),
      );
    if (rows.length > 0) put(into, { kind: 'table', rows });
  };
  all(new DOMParser().parseFromString(html, 'text/html').body, document.blocks);
  return document;
}
