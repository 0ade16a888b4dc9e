import { Injectable, signal } from '@angular/core';

/** The steps from the school to the page that is open, as the head shows them. */
@Injectable({ providedIn: 'root' })
export class Breadcrumbs {
  readonly path = signal<{ label: string; link?: string }[]>([]);

  set(...steps: (string | { label: string; link: string })[]): void {
    this.path.set(steps.map((s) => (typeof s === 'string' ? { label: s } : s)));
  }
}
