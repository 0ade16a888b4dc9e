import type pg from 'pg';
import { listed } from '@core/words/count';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { aliasKeyOf, assessmentOfSubmission, enrolmentIds, namesIn } from './sql';
import { Veil } from './veil';

/** What of a book may be told through one door, and by what names. */
export class Names {
  /** `veil`: the one assessment that is looked at without names; `hidden`: those that nobody is named in. */
  constructor(
    readonly hidden: ReadonlySet<string>,
    readonly veil: Veil | null = null,
  ) {}

  /** Whether what is about this assessment may be told here; null: what is about students and no one assessment. */
  opens(assessment: string | null): boolean {
    if (this.veil) return assessment === this.veil.assessment;
    return assessment === null || !this.hidden.has(assessment);
  }

  /** The student whom an address names here; through a veil by their alias alone. */
  student(named: string | null): string | null {
    return this.veil && named !== null ? this.veil.fromAliases({ student: named }).student : named;
  }

  /** Refuses what is about an assessment that may not be told here. */
  require(assessment: string | null): void {
    if (!this.opens(assessment)) throw namesHidden();
  }
}

/** Nothing is hidden: what every door is given that is not about one book. */
export const NO_NAMES_HIDDEN = new Names(new Set());

export const namesHidden = (): Refusal =>
  new Refusal(
    'names-hidden',
    'It is not said here whose work this is: names are hidden until a teacher shows them. The work is read and marked in the marking room. Nothing was changed.',
  );

/** Makes out for a request what may be told of a book. */
export class HiddenNames {
  private readonly keys = new Map<string, Buffer>();

  constructor(private readonly pool: pg.Pool) {}

  /** `assessment`: the one that is looked at through a veil. */
  async of(school: string, book: string, hidden: readonly string[], assessment: string | null): Promise<Names> {
    const set = new Set(hidden);
    return new Names(set, assessment === null ? null : await this.veilOf(school, book, assessment));
  }

  async veilOf(school: string, book: string, assessment: string): Promise<Veil> {
    let key = this.keys.get(school);
    if (!key) this.keys.set(school, (key = await aliasKeyOf(this.pool, school)));
    return new Veil(assessment, key, book, await enrolmentIds(this.pool, school, book));
  }

  /** Of which assessment a submission is; null: there is no such submission. */
  assessmentOf(school: string, book: string, submission: string): Promise<string | null> {
    return assessmentOfSubmission(this.pool, school, book, submission);
  }

  /** A refusal as it is told through a veil: by aliases, and with nobody named. */
  async veiled(error: unknown, school: string, book: string, veil: Veil): Promise<unknown> {
    if (!(error instanceof Refusal)) return error;
    let { detail } = error;
    for (const p of await namesIn(this.pool, school, book))
      for (const name of [`${p.family}, ${p.given}`, personName({ ...p, role: 'student' }), personName(p)])
        detail = detail.replaceAll(name, veil.nameOf(p.enrolment));
    return new Refusal(error.code, detail, veil.toAliases(error.more));
  }
}

/** The titles of assessments in which names are hidden, where somebody wants what needs them shown. */
export const showFirst = (titles: readonly string[], what: string): Refusal =>
  new Refusal(
    'names-hidden',
    `Names are hidden in ${listed([...titles])}. A teacher shows them in the marking room; then ${what}. Nothing was changed.`,
  );
