/** A drawing as a file of its own: the colours that the page's tokens stand for are written into it. */
export function svgText(svg: SVGSVGElement): string {
  const style = getComputedStyle(svg);
  const text = new XMLSerializer().serializeToString(svg);
  return text
    .replace(/var\((--[\w-]+)\)/g, (_all, name: string) => style.getPropertyValue(name).trim() || '#000')
    .replace(/ _ng[\w-]+="[^"]*"/g, '');
}

/** The same as a PNG, so many times its size. */
export async function pngOf(svg: SVGSVGElement, scale = 2): Promise<Blob> {
  const { width, height } = svg.viewBox.baseVal;
  const url = URL.createObjectURL(new Blob([svgText(svg)], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    await new Promise<void>((done, failed) => {
      image.onload = () => done();
      image.onerror = () => failed(new Error('The picture could not be drawn.'));
      image.src = url;
    });
    const canvas = document.createElement('canvas');
    canvas.width = width * scale;
    canvas.height = height * scale;
    const context = canvas.getContext('2d')!;
    context.fillStyle = getComputedStyle(svg).getPropertyValue('--paper').trim();
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    return await new Promise<Blob>((done, failed) =>
      canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error('The picture could not be drawn.'))), 'image/png'),
    );
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** Gives the person a file to save. */
export function save(name: string, blob: Blob): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A name for a file from a title. */
export const fileName = (title: string, end: string): string =>
  `${
    title
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 60) || 'picture'
  }.${end}`;
