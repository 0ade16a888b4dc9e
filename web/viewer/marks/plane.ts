import type { Box, Point, StrokePoint } from '@core/marks/work-mark';

/** Where a surface lies in the window, as wide and high as it is unturned, in CSS pixels. */
export interface Plane {
  element: Element;
  width: number;
  height: number;
  /** Degrees to the right. */
  turn: number;
}

/** A place of the window on the surface, in its widths. */
export function toSurface({ element, width, height, turn }: Plane, x: number, y: number): Point {
  const r = element.getBoundingClientRect();
  const [dx, dy] = [x - (r.left + r.width / 2), y - (r.top + r.height / 2)];
  const angle = (-turn * Math.PI) / 180;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)];
  return [(dx * cos - dy * sin + width / 2) / width, (dx * sin + dy * cos + height / 2) / width];
}

/** A box of the window on the surface. */
export function boxToSurface(plane: Plane, r: DOMRect): Box {
  const [a, b] = [toSurface(plane, r.left, r.top), toSurface(plane, r.right, r.bottom)];
  return [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.abs(a[0] - b[0]), Math.abs(a[1] - b[1])];
}

/** A pointer where it is; a mouse presses evenly. */
export function strokePoint(plane: Plane, e: PointerEvent, top: number): StrokePoint {
  const [x, y] = toSurface(plane, e.clientX, e.clientY);
  return [x, y - top, e.pointerType === 'pen' && e.pressure > 0 ? e.pressure : 0.5];
}
