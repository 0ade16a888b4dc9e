import type { StrokePoint } from './work-mark';

/** Width of a line that is drawn with middling pressure, in widths of the surface. */
export const PEN_WIDTH = 0.0032;
/** Points that lie nearer to the one before are left out. */
const NEAREST = 0.0006;
/** Widths that a line is drawn in, from the lightest. */
const STEPS = 6;

/** How wide the pen draws under a pressure of 0 to 1. */
export const penWidth = (pressure: number): number => PEN_WIDTH * (0.35 + 1.3 * pressure);

const step = (pressure: number): number => Math.min(STEPS - 1, Math.floor(pressure * STEPS));

/** Adds a point to a stroke where it is far enough from the last. Gives whether it was added. */
export function addPoint(stroke: StrokePoint[], point: StrokePoint): boolean {
  const last = stroke.at(-1);
  if (last && Math.hypot(point[0] - last[0], point[1] - last[1]) < NEAREST) return false;
  stroke.push(point);
  return true;
}

/** A part of a stroke that is drawn in one width, as the points of curves: from `from`, over each control point to its end. */
export interface Line {
  width: number;
  from: [number, number];
  curves: [cx: number, cy: number, x: number, y: number][];
}

/** A stroke as smooth lines, each of one width; a single point is a dot. */
export function strokeLines(stroke: readonly StrokePoint[]): Line[] {
  const [first] = stroke;
  if (!first) return [];
  const lines: Line[] = [];
  let at: [number, number] = [first[0], first[1]];
  for (let i = 0; i < stroke.length; i++) {
    const [x, y, p] = stroke[i]!;
    const next = stroke[i + 1];
    // Curves end half-way to the next point, so that they meet without an edge.
    const end: [number, number] = next ? [(x + next[0]) / 2, (y + next[1]) / 2] : [x, y];
    const width = penWidth((step(p) + 0.5) / STEPS);
    const last = lines.at(-1);
    if (last?.width === width) last.curves.push([x, y, ...end]);
    else lines.push({ width, from: at, curves: [[x, y, ...end]] });
    at = end;
  }
  return lines;
}

/** A line as the path of an SVG whose unit is `scale` parts of a width. */
export function linePath(line: Line, scale: number): string {
  const n = (v: number): string => (v * scale).toFixed(2);
  const curves = line.curves.map(([a, b, x, y]) => `Q${n(a)} ${n(b)} ${n(x)} ${n(y)}`).join('');
  return `M${n(line.from[0])} ${n(line.from[1])}${curves}`;
}
