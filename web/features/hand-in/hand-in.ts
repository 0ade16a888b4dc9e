import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import { Checkbox } from 'primeng/checkbox';
import { InputText } from 'primeng/inputtext';
import { Textarea } from 'primeng/textarea';
import { FILE_KIND_WORDS } from '@core/work/file-kinds';
import { counted, formOf } from '@core/words/count';
import { span } from '@core/working/wording';
import type { HandInKind, Submission, SubmissionFile } from '@contract/work/submissions';
import { OpenThread } from '../../data/work/thread';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { ThreadBox } from '../../ui/form/thread-box';
import { dayAndTime, soon } from '../../ui/text/dates';
import { kindWords, sizeOf } from '../../ui/text/file-words';
import { RichTextView } from '../../text/rich-text-view';
import { Receipt } from './receipt';
import { Uploads } from '../../data/work/uploads';
import { WorkInHand } from './work-in-hand';

const KIND_WORDS: Record<HandInKind, string> = { files: 'files', text: 'text', link: 'a link' };

/** One assessment, as its student hands in: what it costs now, what lies here, one act at the end, and the receipt. */
@Component({
  selector: 'lt-hand-in',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, Checkbox, FormsModule, InputText, Receipt, RichTextView, RouterLink, Textarea, ThreadBox],
  providers: [OpenThread, Uploads, WorkInHand],
  templateUrl: './hand-in.html',
  styleUrl: './hand-in.css',
})
export class HandInPage {
  readonly book = input.required<string>();
  readonly assessment = input.required<string>();
  protected readonly work = inject(WorkInHand);
  protected readonly thread = inject(OpenThread);
  private readonly uploads = inject(Uploads);
  private readonly breadcrumbs = inject(Breadcrumbs);
  protected readonly page = this.work.page;
  protected readonly STATE_WORDS = {
    'handed-in': 'handed in',
    'taken-back': 'taken back',
    moved: 'moved to another',
    begun: '',
  };
  protected readonly ticked = signal(false);
  /** Another attempt is begun from here. */
  protected readonly fresh = signal(false);
  protected readonly latest = computed(() => this.page()?.before[0] ?? null);
  protected readonly earlier = computed(() => this.page()?.before.slice(1) ?? []);

  protected readonly files = computed(() => (this.work.begun()?.files ?? []).map((f) => this.fileLine(f)));
  protected readonly handsIn = computed(() => {
    const p = this.page();
    return p !== null && !p.shut && (this.fresh() || p.begun !== null || !this.latest());
  });
  /** How many parts lie here: files, what is typed, a link. */
  protected readonly parts = computed(
    () => this.files().length + Number(this.work.typed().trim() !== '') + Number(this.work.link().trim() !== ''),
  );
  /** What is still to be done before it can be handed in; '' nothing. */
  protected readonly lacks = computed(() => {
    if (this.parts() === 0) return 'Nothing lies here yet.';
    const coming = this.files().filter((f) => f.word !== 'here').length;
    if (coming > 0) return `${counted(coming, 'file')} ${formOf(coming, 'is', 'are')} not all here yet.`;
    if (this.files().some((f) => f.refused)) return 'A file is of a kind that is not taken here: take it out.';
    if (this.work.theirs()) return 'Choose first which words are right.';
    if (this.page()?.settings.statement && !this.ticked()) return 'Tick the statement first.';
    return '';
  });
  protected readonly status = computed(() =>
    this.work.waits()
      ? 'Not handed in yet: the line is down. It goes on by itself while this page is open.'
      : this.lacks() || 'Not handed in yet.',
  );
  protected readonly handInLabel = computed(() => {
    const [n, files] = [this.parts(), this.files().length];
    return n === 0 ? 'Hand in' : n === files ? `Hand in ${counted(n, 'file')}` : `Hand in ${counted(n, 'part')}`;
  });
  protected readonly howWords = computed(() => {
    const p = this.page();
    if (!p?.takesWork) return '';
    const kinds = (p.settings.kinds ?? ['files', 'text', 'link']).map((k) => KIND_WORDS[k]);
    const types = p.settings.types?.map((t) => FILE_KIND_WORDS[t].many).join(', ');
    return `${new Intl.ListFormat('en-GB', { type: 'disjunction' }).format(kinds)}${types ? ` (${types})` : ''}`;
  });
  protected readonly inTime = computed(() => {
    const p = this.page()!;
    if (p.due === null) return 'Handed in now: in time, it has no due date.';
    const left = Date.parse(p.due) - Date.parse(p.asOf);
    if (left < 0) return `It was due ${this.at(p.due)}; nothing is taken for that.`;
    return `Handed in now: in time, ${span(left)} left. Due ${soon(p.due, p.asOf, p.timeZone)}.`;
  });
  protected readonly attemptWords = computed(() => {
    const p = this.page()!;
    if (p.attemptsLeft === null) return 'It can be handed in as often as you like while it is open.';
    const had = p.before.filter((s) => s.state === 'handed-in').length;
    return p.attemptsLeft === 1 && had === 0
      ? 'There is one attempt.'
      : `Attempt ${had + 1} of ${had + p.attemptsLeft}.`;
  });
  protected readonly mayTakeBack = computed(() => {
    const p = this.page();
    return p !== null && !p.left && !p.settings.keepsAll && (p.due === null || Date.parse(p.asOf) <= Date.parse(p.due));
  });

  constructor() {
    effect(() => {
      const place = { book: this.book(), assessment: this.assessment() };
      untracked(() => {
        this.work.place.set(place);
        void this.thread.open(
          `/my/books/${encodeURIComponent(place.book)}/assessments/${encodeURIComponent(place.assessment)}/thread`,
        );
        this.fresh.set(false);
        this.ticked.set(false);
      });
    });
    effect(() => {
      const p = this.page();
      if (p) this.breadcrumbs.set(p.bookTitle, p.title);
    });
  }

  private fileLine(f: SubmissionFile) {
    const way = this.uploads.progress().get(f.id);
    const here = f.sha256 !== null;
    const sent = Math.max(way?.sent ?? 0, f.received);
    const share = here || f.bytes === 0 ? null : Math.floor((100 * sent) / f.bytes);
    const sends = this.uploads.has(f.id);
    return {
      id: f.id,
      name: f.name,
      word: here ? 'here' : sends ? (way?.waits ? 'waits' : 'comes') : 'broke off',
      share,
      refused: f.refused,
      odd: f.odd !== null || (way?.failure ?? '') !== '',
      about:
        f.odd ??
        (way?.failure ||
          (here
            ? `${kindWords(f)}, ${sizeOf(f.bytes)}`
            : way?.waits
              ? `${share} %, goes on when the line is back`
              : sends
                ? `${share} % of ${sizeOf(f.bytes)}`
                : `broke off at ${share} % of ${sizeOf(f.bytes)}; choose it again to go on`)),
    };
  }

  protected takes(kind: HandInKind): boolean {
    return this.page()?.settings.kinds?.includes(kind) ?? true;
  }

  protected at(moment: string): string {
    return dayAndTime(moment, this.page()?.timeZone ?? 'UTC');
  }

  protected partsOf(s: Submission): string {
    const n = s.files.length + Number(s.typed.trim() !== '') + Number(s.link.trim() !== '');
    return s.files.length === n ? counted(n, 'file') : counted(n, 'part');
  }

  protected readonly sizeOf = sizeOf;

  protected handout(id: string): string {
    const { book, id: assessment } = this.page()!;
    return `/api/v1/my/books/${encodeURIComponent(book)}/assessments/${encodeURIComponent(assessment)}/handouts/${id}`;
  }

  protected picked(event: Event): void {
    const box = event.target as HTMLInputElement;
    const files = [...(box.files ?? [])];
    box.value = '';
    void this.work.add(files);
  }

  protected dropped(event: DragEvent): void {
    event.preventDefault();
    void this.work.add([...(event.dataTransfer?.files ?? [])]);
  }
}
