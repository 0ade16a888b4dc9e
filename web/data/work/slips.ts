import { inject, Injectable } from '@angular/core';
import type { Arrivals, StudentAssessment, Submission } from '@contract/work/submissions';
import type { Slip, SlipStates, SlipTrace } from '@contract/slips';
import { Api } from '../api';

/** Whose slip of which assessment. `enrolment`: staff look at it as this student; null: one's own. */
export interface SlipPlace {
  book: string;
  assessment: string;
  enrolment: string | null;
}

const part = encodeURIComponent;

const pathOf = ({ book, assessment, enrolment }: SlipPlace): string =>
  enrolment === null
    ? `/my/books/${part(book)}/slips/${part(assessment)}`
    : `/books/${part(book)}/as-student/${part(enrolment)}/slips/${part(assessment)}`;

/** Where the bytes of a recording or a file of a slip lie. */
export const slipFileAddress = (p: SlipPlace, file: string): string => `/api/v1${pathOf(p)}/files/${part(file)}`;

/** The slip as a PDF. */
export const slipPdfAddress = (p: SlipPlace): string => `/api/v1${pathOf(p)}/pdf`;

/** Where a file that its student handed in lies. */
export const ownFileAddress = (p: SlipPlace, submission: string, file: string): string =>
  `/api/v1/${p.enrolment === null ? 'my/books' : 'books'}/${part(p.book)}/submissions/${part(submission)}/files/${part(file)}`; // prettier-ignore

/** What came back beside scores, for its student or for staff who look as they do. */
@Injectable({ providedIn: 'root' })
export class Slips {
  private readonly api = inject(Api);

  read(p: SlipPlace): Promise<Slip> {
    return this.api.get<Slip>(pathOf(p));
  }

  /** What its student handed in there, the latest first. */
  async work(p: SlipPlace): Promise<Submission[]> {
    const [book, assessment] = [part(p.book), part(p.assessment)];
    if (p.enrolment === null)
      return (await this.api.get<StudentAssessment>(`/my/books/${book}/assessments/${assessment}`)).before;
    const all = await this.api.get<Arrivals>(`/books/${book}/assessments/${assessment}/arrivals`);
    return all.students.find((s) => s.enrolment === p.enrolment)?.submissions ?? [];
  }

  /** Where everybody's slip of one assessment stands. */
  states(book: string, assessment: string): Promise<SlipStates> {
    return this.api.get<SlipStates>(`/books/${part(book)}/assessments/${part(assessment)}/slips`);
  }

  /** Says that its student opened it or played a recording; staff who look leave no trace. */
  async trace(p: SlipPlace, trace: SlipTrace): Promise<void> {
    if (p.enrolment === null) await this.api.send('POST', `${pathOf(p)}/traces`, trace);
  }
}
