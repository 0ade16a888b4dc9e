import { inject, Injectable } from '@angular/core';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import type { ScoreWay } from './assessment-trial';
import type { Draft } from './draft';

/** What was being changed when the page was left, and what of it was seen. */
export interface LeftChanges {
  version: number;
  draft: Draft;
  reason: string;
  scores: ScoreWay | null;
  /** Null: nobody is told. */
  tell: string | null;
}

/** Keeps what is being changed of assessments while their page is left. */
@Injectable()
export class AssessmentLeft {
  private readonly store = inject(BookStore);
  private readonly drafts = inject(KeptDrafts);

  read(assessment: string): LeftChanges | null {
    return this.drafts.read<LeftChanges>(this.place(assessment));
  }

  keep(assessment: string, left: LeftChanges | null): void {
    this.drafts.keep(this.place(assessment), left);
  }

  private place(assessment: string): string {
    return `assessment ${this.store.id()} ${assessment}`;
  }
}
