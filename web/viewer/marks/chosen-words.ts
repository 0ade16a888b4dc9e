import { quoteOf, type Surface } from '@core/marks/work-mark';
import type { ChosenWords } from './mark-board';
import { boxToSurface, type Plane } from './plane';
import { lineBoxes, offsetIn, rangeOf, textMap } from './text-map';

/** A surface with text on it. */
export interface TextSurface {
  plane: Plane;
  surface: Surface;
  /** The element that its text stands in. */
  text: HTMLElement;
  /** Its text flows: where its lines are is read off the page each time. */
  flows: boolean;
  /** What a place of it hangs on, and how far below the top that lies, in widths. */
  blockAt(y: number): { surface: Surface; top: number };
}

/** The words of a range as far as they stand on one surface; null: none do. */
export function chosenWords(range: Range, on: TextSurface): ChosenWords | null {
  if (range.collapsed || !range.intersectsNode(on.text)) return null;
  const map = textMap(on.text);
  let start = offsetIn(map, range.startContainer, range.startOffset);
  let end = offsetIn(map, range.endContainer, range.endOffset);
  while (start < end && /\s/.test(map.text[start]!)) start++;
  while (end > start && /\s/.test(map.text[end - 1]!)) end--;
  return wordsAt(start, end, on, map);
}

/** The words of a stretch of the text of a surface; null: there are none. */
export function wordsAt(start: number, end: number, on: TextSurface, map = textMap(on.text)): ChosenWords | null {
  const exact = end > start ? rangeOf(map, start, end) : null;
  const lines = exact ? lineBoxes(exact) : [];
  if (lines.length === 0) return null;
  return {
    surface: on.flows && on.surface.on !== 'sheet' ? { on: 'whole', index: 0 } : on.surface,
    quote: quoteOf(map.text, start, end),
    boxes: on.flows ? [] : lines.map((r) => boxToSurface(on.plane, r)),
    edge: lines.at(-1)!,
  };
}
