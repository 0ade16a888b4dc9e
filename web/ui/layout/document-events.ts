import { DestroyRef, DOCUMENT, inject } from '@angular/core';

/**
 * Hears an event of the whole page as long as whoever calls is there. Unlike a host's listener it has nothing looked
 * through again: what it hears changes signals, or nothing that is shown. So a key that is nobody's costs nothing.
 */
export function onDocument<K extends keyof DocumentEventMap>(
  kinds: K | readonly K[],
  hear: (event: DocumentEventMap[K]) => void,
): void {
  const document = inject(DOCUMENT);
  const all = typeof kinds === 'string' ? [kinds] : kinds;
  for (const kind of all) document.addEventListener(kind, hear);
  inject(DestroyRef).onDestroy(() => all.forEach((kind) => document.removeEventListener(kind, hear)));
}
