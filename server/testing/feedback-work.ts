import { randomUUID } from 'node:crypto';
import type { FeedbackAttachments, FeedbackPurpose } from '@contract/work/feedback';
import type { Notices } from '@contract/notices';
import type { Slip, SlipStates } from '@contract/slips';
import type { Submission } from '@contract/work/submissions';
import type { Rubric } from '@core/rubric/document';
import { HandingIn } from './hand-in';
import { NoteWriter } from './note-writer';
import { operation, type Person } from './person';
import { testSchool, type TestSchool } from './school';

const levels = (...points: number[]) => points.map((p, i) => ({ id: `l${i + 1}`, points: p, words: `worth ${p}` }));
const RUBRIC: Rubric = {
  by: 'points',
  criteria: [
    { id: 'drawing', title: 'Profile drawing', stands: 'counts', levels: levels(2, 4, 8) },
    { id: 'reading', title: 'Reading of the site', stands: 'counts', levels: levels(6, 12) },
  ],
};
/** In a school of its own, with an assessment that has a rubric and two pieces of work. */
export async function feedbackWork(): Promise<FeedbackWork> {
  const school = await testSchool();
  await school.runClock('2026-11-24T09:00:00Z');
  const handing = new HandingIn(school);
  const id = await handing.assessment();
  const ada = await handing.handIn(id);
  await handing.handIn(id, school.ben, 'What Ben found.');
  const write = { operation: operation(), version: 0, rubric: RUBRIC };
  await school.teacher.must('PUT', `/books/fens/assessments/${id}/rubric`, write);
  return new FeedbackWork(school, handing, id, ada);
}

/** One assessment's feedback, as staff give and release it and students get it. Where nobody is named it is Ada's. */
export class FeedbackWork {
  constructor(
    readonly school: TestSchool,
    readonly handing: HandingIn,
    /** The assessment's id. */
    readonly id: string,
    readonly ada: Submission,
  ) {}

  slip(who: Person = this.school.ada, assessment = this.id): Promise<Slip> {
    return who.must('GET', `/my/books/fens/slips/${assessment}`);
  }

  states(): Promise<SlipStates> {
    return this.school.teacher.must('GET', `/books/fens/assessments/${this.id}/slips`);
  }

  async stateOf(enrolment = this.school.adaId): Promise<SlipStates['students'][number]> {
    return (await this.states()).students.find((s) => s.enrolment === enrolment)!;
  }

  async notices(who: Person = this.school.ada): Promise<string[]> {
    return (await who.must<Notices>('GET', '/my/notices')).map((n) => n.text);
  }

  async version(enrolment: string): Promise<number> {
    const { rows } = await this.school.pool.query<{ version: number }>(
      'select version from entry where assessment = $1 and enrolment = $2',
      [this.id, enrolment],
    );
    return rows[0]?.version ?? 0;
  }

  async give(marks: Record<string, number>, seen: Record<string, number> = {}): Promise<void> {
    await this.school.teacher.must('PUT', `/books/fens/levels/${this.id}/${this.school.adaId}`, {
      ...{ operation: operation(), work: this.ada.id, rubric: 1, cell: await this.version(this.school.adaId) },
      marks: Object.entries(marks).map(([criterion, points]) => ({
        ...{ criterion, version: seen[criterion] ?? 0 },
        mark: { points },
      })),
    });
  }

  note(who = this.school.teacher, enrolment = this.school.adaId, work = this.ada.id): NoteWriter {
    return new NoteWriter(who, `/books/fens/end-notes/${this.id}/${enrolment}/${work}`);
  }

  async write(words: string, who?: Person, enrolment?: string, work?: string): Promise<void> {
    const writer = this.note(who, enrolment, work);
    writer.type(words);
    await writer.send();
  }

  async file(bytes: Buffer, purpose: FeedbackPurpose = 'given', everybody = false): Promise<string> {
    const at = `/books/fens/feedback-attachments/${this.id}/${this.school.adaId}/${this.ada.id}`;
    const body = { id: randomUUID(), purpose, name: `${purpose}.bin`, bytes: bytes.length, everybody };
    const all = await this.school.teacher.must<FeedbackAttachments>('POST', at, body);
    const { upload } = all.find((f) => f.id === body.id)!;
    const { status } = await this.handing.patch(this.school.teacher, upload, 0, bytes);
    if (status !== 204) throw new Error(`a file to give back was answered with ${status}`);
    return body.id;
  }

  release(more: object = {}, enrolments: string[] | null = [this.school.adaId]): Promise<{ people: number }> {
    return this.school.teacher.must('POST', '/books/fens/release', {
      ...{ operation: operation(), assessment: this.id, enrolments, moveRules: true, ...more },
    });
  }

  withdraw(more: object = {}): Promise<unknown> {
    return this.school.teacher.must('POST', '/books/fens/withdraw', {
      ...{ operation: operation(), assessment: this.id, enrolments: [this.school.adaId], ...more },
    });
  }

  /** Everything that a student can get, as bytes. */
  async allBytes(who: Person = this.school.ada): Promise<string> {
    const slips = `/my/books/fens/slips/${this.id}`;
    const paths = ['/my/books', '/my/books/fens', '/my/notices', slips, this.handing.at(this.id)];
    return (await Promise.all(paths.map((p) => who.send('GET', p))))
      .map((a) => a.text)
      .join('\n')
      .replace(/"asOf":"[^"]*"/g, '');
  }
}
