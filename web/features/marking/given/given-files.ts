import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { isRecording, type FeedbackAttachment } from '@contract/work/feedback';
import { messageOf } from '../../../data/api';
import { BookAnnotations } from '../../../data/annotations';
import { BookStore } from '../../../data/book';
import { FeedbackAttachments } from '../../../data/work/feedback-attachments';
import { Recordings } from '../../../data/work/recordings';
import { MenuWord, type MenuLine } from '../../../ui/form/menu-word';
import { StatusBar } from '../../../ui/layout/status-bar';
import { sizeOf } from '../../../ui/text/file-words';
import { lengthWords, Player } from '../../../viewer/recording/player';
import type { WorkFile } from '../../../viewer/work-file';
import { cannotRecord } from './recorder';
import { RecordingStrip } from './recording-strip';
import { StaffNoteBox } from './staff-note-box';

/** What goes back with one piece of work beside its end note, and what stays with the staff. For one piece of work. */
@Component({
  selector: 'lt-given-files',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MenuWord, Player, RecordingStrip, StaffNoteBox],
  providers: [FeedbackAttachments],
  templateUrl: './given-files.html',
  styleUrl: './given-files.css',
  host: { role: 'group', 'aria-label': 'Given back' },
})
export class GivenFiles {
  readonly student = input.required<string>();
  readonly assessment = input.required<string>();
  readonly work = input.required<string>();
  /** Makes the marked copy of what is shown; null: there is nothing that could be. */
  readonly markedCopy = input<(() => Promise<{ name: string; bytes: Blob }>) | null>(null);
  protected readonly store = inject(BookStore);
  protected readonly files = inject(FeedbackAttachments);
  private readonly recordings = inject(Recordings);
  private readonly annotations = inject(BookAnnotations);
  private readonly statusBar = inject(StatusBar);
  private readonly chooser = viewChild<ElementRef<HTMLInputElement>>('chooser');
  private readonly strip = viewChild(RecordingStrip);
  protected readonly sizeOf = sizeOf;
  protected readonly lengthWords = lengthWords;
  protected readonly recording = signal<'voice' | 'camera' | null>(null);
  protected readonly cannot = cannotRecord();
  protected readonly staffOpen = signal(false);
  private to: 'one' | 'all' | 'staff' = 'one';

  protected readonly there = computed(() =>
    this.files.all().filter((f) => !f.removed && f.purpose !== 'staff' && !this.isBeingMade(f) && !this.isNothing(f)),
  );
  protected readonly staffFiles = computed(() => this.files.all().filter((f) => !f.removed && f.purpose === 'staff'));
  protected readonly lastRemoved = signal<FeedbackAttachment | null>(null);
  protected readonly note = computed(() => this.annotations.noteAt(this.student(), this.assessment()).note);
  protected readonly staffShown = computed(
    () => this.staffOpen() || this.note() !== null || this.staffFiles().length > 0,
  );
  protected readonly gives = computed((): MenuLine[] => [
    { id: 'one', kind: 'act', text: 'to this student' },
    { id: 'all', kind: 'act', text: 'to everybody', more: 'an answer key' },
    ...(this.markedCopy() ? ([{ id: 'marked', kind: 'act', text: 'the marked copy', more: 'PDF' }] as const) : []),
  ]);

  constructor() {
    effect(() => {
      const [book, assessment, enrolment, work] = [this.store.id(), this.assessment(), this.student(), this.work()];
      this.files.place.set(book ? { book, assessment, enrolment, work } : null);
    });
  }

  /** One's own recording that goes on in this page is shown while it is made, not in the list. */
  private isBeingMade(f: FeedbackAttachment): boolean {
    return this.recording() !== null && f.sha256 === null && isRecording(f.purpose) && this.recordings.unkept().has(f.id); // prettier-ignore
  }

  /** One's own that was begun elsewhere and has nothing in it. */
  private isNothing(f: FeedbackAttachment): boolean {
    return f.mine && f.sha256 === null && isRecording(f.purpose) && f.received === 0 && !this.recordings.unkept().has(f.id); // prettier-ignore
  }

  protected isRecording = (f: FeedbackAttachment): boolean => isRecording(f.purpose);

  /** Why a recording is not whole yet; '' where it is. */
  protected stateOf(f: FeedbackAttachment): string {
    if (f.sha256 !== null) return '';
    const waits = this.recordings.unkept().get(f.id);
    if (waits !== undefined) return waits || 'is sent …';
    if (!isRecording(f.purpose)) {
      const sending = this.files.sending(f);
      if (sending?.failure) return sending.failure;
      if (sending) return `${sizeOf(sending.sent)} of ${sizeOf(f.bytes)}${sending.waits ? ', waits for the line' : ''}`;
      return f.mine ? 'did not come whole: take it off and give it again' : 'is sent …';
    }
    return f.mine ? `broke off; ${sizeOf(f.received)} of it are here` : `${f.by} records …`;
  }

  protected workFile(f: FeedbackAttachment): WorkFile {
    const address = this.files.address(f);
    return { key: `given/${f.id}`, id: f.id, name: f.name, bytes: f.bytes, mediaType: f.mediaType, sha256: f.sha256!, address }; // prettier-ignore
  }

  /** Begins to record, or ends and keeps it. */
  record(purpose: 'voice' | 'camera'): void {
    if (this.recording()) return this.strip()?.keep();
    if (this.cannot) return this.statusBar.announce(this.cannot);
    if (this.store.mayScore() && this.files.isThere()) this.recording.set(purpose);
  }

  protected give(to: string): void {
    if (to === 'marked') return this.act(() => this.giveMarked());
    this.to = to as 'one' | 'all' | 'staff';
    this.chooser()?.nativeElement.click();
  }

  private async giveMarked(): Promise<void> {
    const make = this.markedCopy();
    if (!make) return;
    this.statusBar.announce('The marked copy is made …');
    const { name, bytes } = await make();
    await this.files.give(bytes, name, 'given', false);
    this.statusBar.announce(`${name} goes back with this work.`);
  }

  protected chosen(event: Event): void {
    const box = event.target as HTMLInputElement;
    const files = [...(box.files ?? [])];
    box.value = '';
    const to = this.to;
    for (const f of files) this.act(() => this.files.give(f, f.name, to === 'staff' ? 'staff' : 'given', to === 'all'));
  }

  protected takeOff(f: FeedbackAttachment): void {
    this.act(async () => {
      await this.files.setRemoved(f, true);
      this.lastRemoved.set(this.files.all().find((r) => r.id === f.id && r.removed) ?? null);
    });
  }

  protected putBack(f: FeedbackAttachment): void {
    this.act(async () => {
      await this.files.setRemoved(f, false);
      this.lastRemoved.set(null);
    });
  }

  protected keepBroken(f: FeedbackAttachment): void {
    this.act(() => this.files.keepBroken(f));
  }

  private act(work: () => Promise<void>): void {
    work().catch((error: unknown) => this.statusBar.announce(messageOf(error), 'trouble'));
  }
}
