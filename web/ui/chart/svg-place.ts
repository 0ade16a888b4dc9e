/** Where a pointer is in a picture, in the units of its viewBox. */
export function placeIn(
  svg: SVGSVGElement,
  event: Pick<PointerEvent, 'clientX' | 'clientY'>,
): { x: number; y: number } {
  const box = svg.getBoundingClientRect();
  const { width, height } = svg.viewBox.baseVal;
  return {
    x: ((event.clientX - box.left) / box.width) * width,
    y: ((event.clientY - box.top) / box.height) * height,
  };
}
