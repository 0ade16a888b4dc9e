/**
 * Gives pieces of a page's text their width by the space between their letters, in place of scaling each of them: what is
 * scaled is a part of its own that the browser goes through for every frame of the page. What is turned stays as it is, and
 * all of it where the browser draws no small letters: `layer`, which holds them, makes up for that by scaling.
 */
export function spreadLetters(layer: HTMLElement, pieces: readonly HTMLElement[]): void {
  if (Number(layer.style.getPropertyValue('--min-font-size')) !== 1) return;
  const level = pieces.filter((p) => !p.style.getPropertyValue('--rotate') && p.textContent !== '');
  // All are read before one is written: the page is laid out once.
  const spaces = level.map((p) => {
    const scale = Number(p.style.getPropertyValue('--scale-x') || 1);
    return ((scale - 1) * p.offsetWidth) / [...p.textContent].length;
  });
  level.forEach((p, i) => {
    p.style.letterSpacing = `${spaces[i]}px`;
    p.classList.add('spread');
  });
}
