import { inject, Injectable, signal } from '@angular/core';
import { KeptDrafts } from '../kept-drafts';

/** Some students of one assessment, to be gone through one after the other, and why these. */
export interface WalkThrough {
  book: string;
  assessment: string;
  why: string;
  enrolments: string[];
  /** Words of their feedback that now are others. */
  replace?: { was: string; becomes: string };
}

const PLACE = 'walk';

/** Work that is to be looked through once more, such as what a changed rubric concerns; it outlives a reload. */
@Injectable({ providedIn: 'root' })
export class Walk {
  private readonly drafts = inject(KeptDrafts);
  readonly now = signal<WalkThrough | null>(null);

  /** What is being gone through in one assessment; null: nothing is. */
  of(book: string, assessment: string): WalkThrough | null {
    const walk = this.now() ?? this.drafts.read<WalkThrough>(PLACE);
    return walk?.book === book && walk.assessment === assessment ? walk : null;
  }

  begin(walk: WalkThrough | null): void {
    this.now.set(walk);
    this.drafts.keep(PLACE, walk);
  }
}
