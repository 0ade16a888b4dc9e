import { inject, Injectable, signal } from '@angular/core';
import { Subject } from 'rxjs';
import {
  MOST_RECORDED_BYTES,
  type FeedbackAttachments,
  type FeedbackPurpose,
  type RecordingEnd,
} from '@contract/work/feedback';
import { Api, ApiProblem } from '../api';
import { retryDelay } from '../outbox/retry-delay';
import { signedInAgain } from '../signed-in-again';
import type { NotePlace } from './outbox/note-outbox';
import { waits } from './outbox/sender';
import { Uploads } from './uploads';

/** Where the server has the files beside a piece of work. */
export const feedbackPath = (p: NotePlace): string =>
  `/books/${p.book}/feedback-attachments/${p.assessment}/${p.enrolment}/${p.work}`;

/** A recording that is made, or not all with the server yet. */
interface Going {
  place: NotePlace;
  upload: string;
  type: string;
  pieces: Blob[];
  sent: number;
  /** What was measured of it once it has ended. */
  end: Pick<RecordingEnd, 'seconds' | 'waveform'> | null;
  failures: number;
}

/** Milliseconds between two looks whether one has signed in again. */
const SIGNED_OUT_PAUSE = 3_000;

/**
 * Recordings on their way: each piece is sent as soon as it is made, over a line that drops and another sign-in, so that a
 * page that closes loses the last seconds at most.
 */
@Injectable({ providedIn: 'root' })
export class Recordings {
  private readonly api = inject(Api);
  private readonly uploads = new Uploads();
  private readonly going = new Map<string, Going>();
  /** Ids of those that are not all with the server, each with why it goes no further ('' while it does). */
  readonly unkept = signal<ReadonlyMap<string, string>>(new Map());
  readonly ended = new Subject<{ place: NotePlace; files: FeedbackAttachments }>();

  constructor() {
    globalThis.addEventListener?.('beforeunload', (event) => {
      if (this.unkept().size > 0) event.preventDefault();
    });
  }

  /** A place with the server for a recording that is about to be made; gives the files that stand there now. */
  async begin(place: NotePlace, id: string, purpose: FeedbackPurpose, type: string): Promise<FeedbackAttachments> {
    const name = `${purpose}.${/mp4/.test(type) ? 'mp4' : /ogg/.test(type) ? 'ogg' : 'webm'}`;
    const body = { id, purpose, everybody: false, name, bytes: MOST_RECORDED_BYTES };
    const files = await this.api.send<FeedbackAttachments>('POST', feedbackPath(place), body);
    const { upload } = files.find((f) => f.id === id)!;
    this.going.set(id, { place, upload, type, pieces: [], sent: 0, end: null, failures: 0 });
    this.say(id, '');
    return files;
  }

  add(id: string, piece: Blob): void {
    const g = this.going.get(id);
    if (!g || piece.size === 0) return;
    g.pieces.push(piece);
    this.push(id);
  }

  end(id: string, measured: Pick<RecordingEnd, 'seconds' | 'waveform'>): void {
    const g = this.going.get(id);
    if (!g) return;
    g.end = measured;
    this.push(id);
  }

  /** It is thrown away: nothing more of it is sent. */
  drop(id: string): void {
    this.uploads.stop(id);
    this.forget(id);
  }

  private push(id: string): void {
    const g = this.going.get(id);
    // What is on its way is followed by the rest.
    if (!g || this.uploads.has(id)) return;
    const all = new Blob(g.pieces, { type: g.type });
    if (all.size === g.sent) {
      if (g.end) void this.close(id, g, g.end);
      return;
    }
    const done = (): void => {
      g.sent = all.size;
      this.say(id, '');
      this.push(id);
    };
    this.uploads.send(id, all, g.upload, done, () => void this.wait(id));
  }

  /** Until one has signed in again, in any window. */
  private async wait(id: string): Promise<void> {
    this.say(id, 'It waits here until you have signed in again: leave this page open.');
    await new Promise((done) => setTimeout(done, SIGNED_OUT_PAUSE));
    await signedInAgain(this.api, this.api.person());
    this.push(id);
  }

  private async close(id: string, g: Going, end: NonNullable<Going['end']>): Promise<void> {
    try {
      const body: RecordingEnd = { bytes: g.sent, ...end };
      const files = await this.api.send<FeedbackAttachments>('POST', `${feedbackPath(g.place)}/${id}/end`, body);
      this.forget(id);
      this.ended.next({ place: g.place, files });
    } catch (error) {
      if (!(error instanceof ApiProblem) || !waits(error)) {
        this.say(id, error instanceof ApiProblem ? error.detail : String(error));
        return;
      }
      if (!error.isTransient) return this.wait(id);
      this.say(id, 'The server does not answer. It is sent by itself: leave this page open.');
      setTimeout(() => this.push(id), retryDelay(g.failures++));
    }
  }

  private say(id: string, why: string): void {
    if (this.unkept().get(id) !== why) this.unkept.update((all) => new Map(all).set(id, why));
  }

  private forget(id: string): void {
    this.going.delete(id);
    this.unkept.update((all) => new Map([...all].filter(([other]) => other !== id)));
  }
}
