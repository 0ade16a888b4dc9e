/** Pixels that a leaf that flows is laid out in, however large it is shown: what is drawn on it stays in its place. */
const LAID_OUT = 705;
/** Below this one reads it in larger letters, unless something is drawn on it. */
const NARROW = 560;

/** Width and size of letters of a leaf that flows, in CSS pixels. `letters`: at {@link LAID_OUT}. */
export function flowSize(
  width: number,
  zoom: number,
  letters: number,
  fixed: boolean,
): { width: number; letters: number } {
  if (width < NARROW && !fixed) return { width, letters: letters * zoom };
  const scale = (width / LAID_OUT) * zoom;
  return { width: LAID_OUT * scale, letters: letters * scale };
}
