import { Injectable } from '@angular/core';

/** One thing of a page of the guide, that can be led to; the first of a page may have no title. */
export interface GuidePart {
  id: string;
  title: string;
  /** Made when the application was built, of docs/guide. */
  html: string;
  /** The same in plain words, to be found by. */
  text: string;
}

/** A page of the guide. `path`: what follows /guide/; empty for the first. */
export interface GuidePage {
  path: string;
  title: string;
  parts: GuidePart[];
}

/** The guide, fetched with the first look into it. */
@Injectable({ providedIn: 'root' })
export class GuidePages {
  private all: Promise<GuidePage[]> | undefined;

  /** Rejects where it cannot be fetched; the next call tries again. */
  load(): Promise<GuidePage[]> {
    this.all ??= import('@guide/pages.json').then(
      (m) => m.default,
      (error: unknown) => {
        this.all = undefined;
        throw error;
      },
    );
    return this.all;
  }
}
