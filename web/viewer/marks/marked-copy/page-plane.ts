/** The box of a PDF page that is shown, in its own units, and how it is turned. */
export interface PagePlane {
  x: number;
  y: number;
  width: number;
  height: number;
  /** 0, 90, 180 or 270 degrees to the right. */
  turn: number;
}

export const shownWidth = (p: PagePlane): number => (p.turn % 180 === 0 ? p.width : p.height);
export const shownHeight = (p: PagePlane): number => (p.turn % 180 === 0 ? p.height : p.width);

/** The matrix from what is shown (from its upper left corner, down, in the page's units) to the page's own places. */
export function toPage({
  x,
  y,
  width: w,
  height: h,
  turn,
}: PagePlane): [number, number, number, number, number, number] {
  switch (turn) {
    case 90:
      return [0, 1, 1, 0, x, y];
    case 180:
      return [-1, 0, 0, 1, x + w, y];
    case 270:
      return [0, -1, -1, 0, x + w, y + h];
    default:
      return [1, 0, 0, -1, x, y + h];
  }
}

/** The page with a margin at the right of what is shown. */
export function withMargin(p: PagePlane, margin: number): PagePlane {
  switch (p.turn) {
    case 90:
      return { ...p, height: p.height + margin };
    case 180:
      return { ...p, x: p.x - margin, width: p.width + margin };
    case 270:
      return { ...p, y: p.y - margin, height: p.height + margin };
    default:
      return { ...p, width: p.width + margin };
  }
}
