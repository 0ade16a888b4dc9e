import type { HandedIn, StudentAssessment, Submission } from '@contract/work/submissions';
import { operation, type Person } from './person';
import type { TestSchool } from './school';

/** Handing in as a student's page does it, in the book "fens" of the test school. */
export class HandingIn {
  private made = 0;

  constructor(readonly school: TestSchool) {}

  /** An assessment to which work is handed in; gives its id. */
  async assessment(more: object = {}, work: object = {}): Promise<string> {
    const id = `work-${++this.made}`;
    await this.school.teacher.must('POST', '/books/fens/assessments', {
      operation: operation(),
      ...{ id, title: `Work ${this.made}`, category: 'work', points: 20, due: '2026-12-01T17:00:00Z', closes: null },
      ...{ takesWork: true, work, more: {} },
      ...more,
    });
    return id;
  }

  at(id: string): string {
    return `/my/books/fens/assessments/${id}`;
  }

  page(id: string, who = this.school.ada): Promise<StudentAssessment> {
    return who.must('GET', this.at(id));
  }

  /** Sends bytes of an upload by the protocol; `bytes` that lie after `offset`. */
  patch(who: Person, upload: string, offset: number, bytes: Buffer, headers: Record<string, string> = {}) {
    return fetch(`${this.school.address}/api/v1/uploads/${upload}`, {
      method: 'PATCH',
      headers: {
        cookie: who.cookie,
        'x-last-tally-token': who.token,
        'tus-resumable': '1.0.0',
        'upload-offset': String(offset),
        'content-type': 'application/offset+octet-stream',
        ...headers,
      },
      body: new Uint8Array(bytes),
    });
  }

  async offsetOf(who: Person, upload: string): Promise<number> {
    const answer = await fetch(`${this.school.address}/api/v1/uploads/${upload}`, {
      method: 'HEAD',
      headers: { cookie: who.cookie, 'tus-resumable': '1.0.0' },
    });
    if (answer.status !== 200) throw new Error(`HEAD of an upload: ${answer.status}`);
    return Number(answer.headers.get('upload-offset'));
  }

  /** Announces a file and sends its first `sent` bytes: all of them, unless it is to break off. */
  async addFile(
    id: string,
    name: string,
    bytes: Buffer,
    who = this.school.ada,
    sent = bytes.length,
  ): Promise<Submission> {
    const file = `f-${++this.made}`;
    const s = await who.must<Submission>('POST', `${this.at(id)}/files`, { id: file, name, bytes: bytes.length });
    const { upload } = s.files.find((f) => f.id === file)!;
    const answer = await this.patch(who, upload, 0, bytes.subarray(0, sent));
    if (answer.status !== 204) throw new Error(`PATCH of an upload: ${answer.status}`);
    return (await this.page(id, who)).begun!;
  }

  /** What is sent to hand in what lies there. */
  write(s: Submission, more: object = {}) {
    return {
      operation: operation(),
      submission: s.id,
      version: s.version,
      statement: null,
      pressedAt: '2026-11-24T09:00:00Z',
      ...more,
    };
  }

  /** Types a text and hands it in. */
  async handIn(id: string, who = this.school.ada, typed = 'What I found.'): Promise<Submission> {
    const { begun } = await this.page(id, who);
    const body = { version: begun?.version ?? 0, typed, link: begun?.link ?? '' };
    const s = await who.must<Submission>('PUT', `${this.at(id)}/work`, body);
    return (await who.must<HandedIn>('POST', `${this.at(id)}/hand-in`, this.write(s))).submission;
  }
}
