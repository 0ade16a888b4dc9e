import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { storable } from '@core/text/storable';
import type { HandedIn, StudentAssessment, Submission } from '@contract/work/submissions';
import { Api, ApiProblem, messageOf, newOperation } from '../../data/api';
import { KeptDrafts } from '../../data/kept-drafts';
import { Operations } from '../../data/operations';
import { schoolNow } from '../../ui/text/dates';
import { Uploads } from '../../data/work/uploads';

/** Milliseconds after the last key until what is typed is sent. */
const TYPED_PAUSE = 700;
/** Milliseconds until something that no answer came to is tried again. */
const AGAIN = 5_000;

/** What is typed and not known to be kept by the server. */
interface TypedDraft {
  typed: string;
  link: string;
  /** The version that it was typed over. */
  version: number;
}

/** The work that a student is about to hand in for one assessment: what lies at the server, and what is on its way. */
@Injectable()
export class WorkInHand {
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly drafts = inject(KeptDrafts);
  private readonly uploads = inject(Uploads);
  readonly place = signal<{ book: string; assessment: string } | null>(null);
  readonly page = signal<StudentAssessment | null>(null);
  readonly begun = computed(() => this.page()?.begun ?? null);
  readonly typed = signal('');
  readonly link = signal('');
  /** What another window has in place of what is typed here. */
  readonly theirs = signal<Submission | null>(null);
  readonly failure = signal('');
  /** Nothing was answered: it is tried again by itself. */
  readonly waits = signal(false);
  readonly busy = signal(false);
  private version = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** One write after the other: each has the version that the one before it left. */
  private turn: Promise<unknown> = Promise.resolve();
  readonly unsent = computed(() => {
    const kept = this.begun();
    return this.typed() !== (kept?.typed ?? '') || this.link() !== (kept?.link ?? '');
  });

  constructor() {
    effect((onCleanup) => {
      if (!this.place()) return;
      untracked(() => void this.load(true));
      onCleanup(() => {
        clearTimeout(this.timer);
        this.uploads.stopAll();
      });
    });
  }

  private path(more = ''): string {
    const { book, assessment } = this.place()!;
    return `/my/books/${encodeURIComponent(book)}/assessments/${encodeURIComponent(assessment)}${more}`;
  }

  /** Reads the page anew; `typed` too where it was just opened. */
  async load(opened = false): Promise<void> {
    const place = this.place();
    try {
      const page = await this.api.get<StudentAssessment>(this.path());
      if (this.place() !== place) return;
      this.page.set(page);
      this.version = page.begun?.version ?? 0;
      this.failure.set('');
      if (opened) this.takeUpDraft(page.begun);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  private takeUpDraft(begun: Submission | null): void {
    const draft = this.drafts.read<TypedDraft>(this.path());
    this.theirs.set(null);
    this.typed.set(draft?.typed ?? begun?.typed ?? '');
    this.link.set(draft?.link ?? begun?.link ?? '');
    if (!draft) return;
    if (draft.version === this.version) this.sendLater();
    else if (this.unsent()) this.theirs.set(begun);
    else this.drafts.keep(this.path(), null);
  }

  type(typed: string, link: string): void {
    // What came with something pasted and cannot be kept is not waited for.
    const draft = { typed: storable(typed), link: storable(link), version: this.version };
    this.typed.set(draft.typed);
    this.link.set(draft.link);
    this.drafts.keep(this.path(), draft satisfies TypedDraft);
    this.sendLater();
  }

  private sendLater(pause = TYPED_PAUSE): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.sendTyped(), pause);
  }

  /** Sends what is typed; false where it is not kept. */
  private sendTyped(): Promise<boolean> {
    clearTimeout(this.timer);
    return this.inTurn(async () => {
      if (!this.unsent() || this.theirs()) return !this.theirs();
      const sent = { typed: this.typed(), link: this.link() };
      try {
        this.took(await this.api.send<Submission>('PUT', this.path('/work'), { version: this.version, ...sent }));
        this.waits.set(false);
        this.failure.set('');
        if (!this.unsent()) this.drafts.keep(this.path(), null);
        return true;
      } catch (error) {
        if (error instanceof ApiProblem && error.code === 'stale') this.theirs.set(error.now as Submission);
        else if (error instanceof ApiProblem && error.isTransient) {
          this.waits.set(true);
          this.sendLater(AGAIN);
        } else this.failure.set(messageOf(error));
        return false;
      }
    });
  }

  /** `own`: what stands here, else what the other window wrote. */
  choose(own: boolean): void {
    const theirs = this.theirs()!;
    this.took(theirs);
    this.theirs.set(null);
    if (own) return void this.sendLater(0);
    this.typed.set(theirs.typed);
    this.link.set(theirs.link);
    this.drafts.keep(this.path(), null);
  }

  private took(begun: Submission | null): void {
    this.version = begun?.version ?? 0;
    this.page.update((p) => p && { ...p, begun });
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const next = this.turn.then(work);
    this.turn = next.catch(() => undefined);
    return next;
  }

  /** Adds files; one that broke off goes on where the same file is chosen again. */
  async add(files: readonly File[]): Promise<void> {
    this.failure.set('');
    for (const file of files) {
      const broken = this.begun()?.files.find(
        (f) => f.name === file.name && f.bytes === file.size && f.sha256 === null && !this.uploads.has(f.id),
      );
      if (broken) this.send(broken.id, file, broken.upload);
      else await this.addNew(file);
    }
  }

  private async addNew(file: File): Promise<void> {
    const id = newOperation();
    const write = { id, name: file.name, bytes: file.size };
    try {
      const begun = await this.inTurn(() =>
        this.tried(() => this.api.send<Submission>('POST', this.path('/files'), write)),
      );
      this.took(begun);
      const made = begun.files.find((f) => f.id === id)!;
      if (made.sha256 === null) this.send(id, file, made.upload);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  private send(id: string, file: File, upload: string): void {
    this.uploads.send(id, file, upload, () => void this.inTurn(() => this.load()));
  }

  /** Tries until there is an answer. */
  private async tried<T>(work: () => Promise<T>): Promise<T> {
    for (;;) {
      try {
        const answer = await work();
        this.waits.set(false);
        return answer;
      } catch (error) {
        if (!(error instanceof ApiProblem) || !error.isTransient || !this.place()) throw error;
        this.waits.set(true);
        await new Promise((done) => setTimeout(done, AGAIN * (0.4 + 0.4 * Math.random())));
      }
    }
  }

  async remove(id: string): Promise<void> {
    this.uploads.stop(id);
    try {
      this.took(await this.inTurn(() => this.api.send<Submission | null>('DELETE', this.path(`/files/${id}`))));
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** Hands in all that lies here. It is sent until there is an answer, as the same, for as long as the page is open. */
  async handIn(statement: string | null): Promise<void> {
    if (this.busy()) return;
    this.busy.set(true);
    this.failure.set('');
    const pressedAt = schoolNow();
    try {
      if (!(await this.sendTyped())) return;
      const body = { submission: this.begun()!.id, version: this.version, statement, pressedAt };
      await this.tried(() => this.operations.submit<HandedIn>('POST', this.path('/hand-in'), body));
      this.drafts.keep(this.path(), null);
      await this.load(true);
    } catch (error) {
      const why = messageOf(error);
      this.failure.set(why);
      if (!(error instanceof ApiProblem)) return;
      // What else is shown is how it stands now: it may be shut, or handed in from another window.
      await this.load();
      if (error.code !== 'stale' && this.failure() === '') this.failure.set(why);
    } finally {
      this.busy.set(false);
    }
  }

  async takeBack(s: Submission): Promise<void> {
    if (this.busy()) return;
    this.busy.set(true);
    this.failure.set('');
    try {
      const body = { submission: s.id, version: s.version };
      await this.operations.submit<HandedIn>('POST', this.path('/take-back'), body);
      await this.load(true);
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
