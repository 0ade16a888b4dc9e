import { computed, DestroyRef, effect, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { filter } from 'rxjs';
import type {
  FeedbackAttachment,
  FeedbackAttachments as FeedbackAttachmentList,
  FeedbackPurpose,
} from '@contract/work/feedback';
import type { LiveEvent } from '@contract/presence';
import { Api, messageOf, Refusal } from '../api';
import { LiveStream } from '../live/live-stream';
import { noteKey, type NotePlace } from './outbox/note-outbox';
import { feedbackPath, Recordings } from './recordings';
import { Uploads } from './uploads';

/** Milliseconds until they are fetched: whoever only steps by fetches none. */
const FETCHED_AFTER = 120;
/** Milliseconds that news are gathered. */
const GATHERED = 150;

/** What is sent of files goes on while one walks from student to student. */
@Injectable({ providedIn: 'root' })
export class FeedbackUploads extends Uploads {}

/** Recordings and files beside one piece of work; the list follows by itself. For one piece of work. */
@Injectable()
export class FeedbackAttachments {
  private readonly api = inject(Api);
  private readonly uploads = inject(FeedbackUploads);
  private readonly recordings = inject(Recordings);
  readonly place = signal<NotePlace | null>(null);
  private readonly known = signal<{ key: string; files: FeedbackAttachmentList } | null>(null);
  readonly problem = signal('');
  readonly isThere = computed(() => this.list() !== null);
  /** All that stand there, those that were taken off too. */
  readonly all = computed(() => this.list() ?? []);
  private readonly list = computed(() => {
    const [place, known] = [this.place(), this.known()];
    return place && known?.key === noteKey(place) ? known.files : null;
  });
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    effect((onCleanup) => {
      if (!this.place()) return;
      const timer = setTimeout(() => void this.load(), FETCHED_AFTER);
      onCleanup(() => clearTimeout(timer));
    });
    const isOurs = (p: { book: string; assessment: string; enrolment: string; work: string }): boolean => {
      const place = this.place();
      const here = place?.book === p.book && place.assessment === p.assessment;
      return here && (p.enrolment === '*' || noteKey(p) === noteKey(place));
    };
    // And what was given while nothing was told.
    const concerns = (e: LiveEvent): boolean =>
      e.kind === 'hello' ? e.book === this.place()?.book : e.kind === 'feedback' && e.note === null && isOurs(e);
    inject(LiveStream)
      .events.pipe(filter(concerns), takeUntilDestroyed())
      .subscribe(() => {
        clearTimeout(this.timer);
        this.timer = setTimeout(() => void this.load(), GATHERED);
      });
    this.recordings.ended.pipe(takeUntilDestroyed()).subscribe(({ place, files }) => this.take(place, files));
    inject(DestroyRef).onDestroy(() => clearTimeout(this.timer));
  }

  async load(): Promise<void> {
    const place = this.place();
    if (!place) return;
    try {
      this.take(place, await this.api.get<FeedbackAttachmentList>(feedbackPath(place)));
      this.problem.set('');
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  private take(place: NotePlace, files: FeedbackAttachmentList): void {
    const here = this.place();
    if (here && noteKey(here) === noteKey(place)) this.known.set({ key: noteKey(place), files });
  }

  /** Where a file is read. */
  address(file: FeedbackAttachment): string {
    const place = this.place();
    return place ? `/api/v1${feedbackPath(place)}/${encodeURIComponent(file.id)}` : '';
  }

  /** How far a file is on its way from this page, or why it goes no further; null: it is not on its way. */
  sending(file: FeedbackAttachment): { sent: number; waits: boolean; failure: string } | null {
    return file.sha256 === null ? (this.uploads.progress().get(file.id) ?? null) : null;
  }

  async give(file: Blob, name: string, purpose: FeedbackPurpose, everybody: boolean): Promise<void> {
    const place = this.place();
    if (!place) return;
    if (file.size === 0) throw new Refusal(`${name} is empty.`);
    const id = crypto.randomUUID();
    const body = { id, purpose, name, everybody, bytes: file.size };
    const files = await this.api.send<FeedbackAttachmentList>('POST', feedbackPath(place), body);
    this.take(place, files);
    this.uploads.send(id, file, files.find((f) => f.id === id)!.upload, () => void this.load());
  }

  /** A place for a recording that is about to be made. */
  async beginRecording(purpose: FeedbackPurpose, type: string): Promise<string> {
    const place = this.place();
    if (!place) throw new Refusal('There is no work here.');
    const id = crypto.randomUUID();
    this.take(place, await this.recordings.begin(place, id, purpose, type));
    return id;
  }

  /** Keeps what came of a recording that broke off. */
  async keepBroken(file: FeedbackAttachment): Promise<void> {
    const place = this.place();
    if (!place) return;
    const body = { bytes: file.received, seconds: null, waveform: [] };
    this.take(
      place,
      await this.api.send<FeedbackAttachmentList>('POST', `${feedbackPath(place)}/${file.id}/end`, body),
    );
  }

  /** Takes a file off, or puts it back. */
  async setRemoved(file: FeedbackAttachment, removed: boolean): Promise<void> {
    const place = this.place();
    if (!place) return;
    if (removed) {
      this.uploads.stop(file.id);
      this.recordings.drop(file.id);
    }
    const body = { version: file.version, removed };
    try {
      this.take(place, await this.api.send<FeedbackAttachmentList>('PUT', `${feedbackPath(place)}/${file.id}`, body));
    } catch (error) {
      void this.load();
      throw error;
    }
  }
}
