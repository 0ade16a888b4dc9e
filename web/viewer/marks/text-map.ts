/** Elements after which other words begin. */
const APART = new Set(['P', 'DIV', 'TD', 'TH', 'TR', 'LI', 'BR', 'TABLE', 'OL', 'UL']);

/** The text below an element as it is quoted, and where each of its characters stands. */
export interface TextMap {
  text: string;
  nodes: { node: Text; start: number }[];
}

/** Reads the text of an element in its order; lines and blocks are kept apart by a line break. */
export function textMap(root: Element): TextMap {
  const nodes: TextMap['nodes'] = [];
  let text = '';
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT, {
    acceptNode: (n) =>
      n instanceof Element && n.closest('[data-not-text]') ? NodeFilter.FILTER_REJECT : NodeFilter.FILTER_ACCEPT,
  });
  for (let n = walker.nextNode(); n; n = walker.nextNode()) {
    if (n instanceof Text) {
      nodes.push({ node: n, start: text.length });
      text += n.data;
    } else if (APART.has((n as Element).tagName) && text !== '' && !text.endsWith('\n')) text += '\n';
  }
  return { text, nodes };
}

/** Where an end of a range stands in the text; what lies outside is its beginning or its end. */
export function offsetIn(map: TextMap, node: Node, offset: number): number {
  if (node instanceof Text) {
    const known = map.nodes.find((n) => n.node === node);
    if (known) return known.start + offset;
  }
  // An element: before its child of that number.
  const point = document.createRange();
  point.setStart(node, offset);
  for (const n of map.nodes) if (point.comparePoint(n.node, 0) >= 0) return n.start;
  return map.text.length;
}

/** The range of a stretch of the text. */
export function rangeOf(map: TextMap, start: number, end: number): Range | null {
  const first = map.nodes.findLast((n) => n.start <= start && start < n.start + n.node.length);
  const from = first ?? map.nodes.find((n) => n.start >= start && n.node.length > 0);
  const to = map.nodes.findLast((n) => n.start < end && n.node.length > 0);
  if (!from || !to) return null;
  const range = document.createRange();
  range.setStart(from.node, Math.max(0, start - from.start));
  range.setEnd(to.node, Math.min(to.node.length, end - to.start));
  return range;
}

/** Boxes of a range, those on one line as one, in the order of the lines. */
export function lineBoxes(range: Range): DOMRect[] {
  const boxes: DOMRect[] = [];
  for (const r of range.getClientRects()) {
    if (r.width < 0.5 || r.height < 0.5) continue;
    const last = boxes.at(-1);
    const sameLine = last && Math.abs(r.top + r.height / 2 - (last.top + last.height / 2)) < Math.max(r.height, last.height) / 2; // prettier-ignore
    // Across the gap of a space, not across that of a column.
    if (sameLine && r.left - last.right < 2 * Math.max(r.height, last.height) && last.left - r.right < r.height) {
      const [left, top] = [Math.min(last.left, r.left), Math.min(last.top, r.top)];
      const [right, bottom] = [Math.max(last.right, r.right), Math.max(last.bottom, r.bottom)];
      boxes[boxes.length - 1] = new DOMRect(left, top, right - left, bottom - top);
    } else boxes.push(r);
  }
  return boxes;
}
