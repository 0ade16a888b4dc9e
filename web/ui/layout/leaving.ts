import type { Router } from '@angular/router';

const pathOf = (url: string): string => url.split(/[?#]/)[0]!;

/** Somebody is on the way to another page: what a page does to its own address by itself must not call them back. */
export function isLeaving(router: Router): boolean {
  const to = router.currentNavigation();
  return to !== null && pathOf(router.serializeUrl(to.finalUrl ?? to.extractedUrl)) !== pathOf(router.url);
}
