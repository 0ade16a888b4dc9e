import { inject, Injectable, signal } from '@angular/core';
import type { LiveEvent, PersonHere } from '@contract/presence';
import { Api } from '../api';
import { BookAnnotations } from '../annotations';
import { BookStore } from '../book';
import { LiveStream } from './live-stream';
import { StatusBar } from '../../ui/layout/status-bar';

/** Milliseconds between two tellings of where one is. */
const PLACE_EVERY = 600;
/** Milliseconds after which a telling that was lost is tried again; they grow with each that is lost, up to the longest. */
const LOST_PAUSE = 2_000;
const LONGEST_LOST_PAUSE = 30_000;
/** Milliseconds after which a book that was refused is asked for again: the session may have been begun anew. */
const REFUSED_PAUSE = 30_000;

/** What others do in the open book, told by the server as it happens, and who they are. */
@Injectable({ providedIn: 'root' })
export class Live {
  private readonly api = inject(Api);
  private readonly store = inject(BookStore);
  private readonly annotations = inject(BookAnnotations);
  private readonly statusBar = inject(StatusBar);
  private readonly stream = inject(LiveStream);
  private book = '';
  private seq = 0;
  private connection = '';
  private wanted: { enrolment: string | null; assessment: string | null } = { enrolment: null, assessment: null };
  private told = '';
  private lostPause = LOST_PAUSE;
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Until a telling that was lost is tried again; who moves meanwhile is told of sooner. */
  private again: ReturnType<typeof setTimeout> | undefined;
  private retry: ReturnType<typeof setTimeout> | undefined;

  readonly people = signal<PersonHere[]>([]);

  constructor() {
    this.stream.events.subscribe((event) => {
      if (event.book === this.book) void this.hear(event);
    });
    // A page that nobody looks at follows nothing: browsers allow few connections.
    globalThis.document?.addEventListener('visibilitychange', () => this.lookUp());
  }

  /** Follows a book from a line of its journal on, until another is followed or it is left. */
  follow(book: string, seq: number): void {
    if (this.book !== book) {
      this.close();
      this.book = book;
      this.seq = seq;
    }
    this.seq = Math.max(this.seq, seq);
    this.lookUp();
  }

  leave(): void {
    this.close();
    this.book = '';
  }

  /** Where the cursor is, for the others. */
  at(enrolment: string | null, assessment: string | null): void {
    this.wanted = { enrolment, assessment };
    this.timer ??= setTimeout(() => this.tellPlace(), PLACE_EVERY);
  }

  private lookUp(): void {
    clearTimeout(this.retry);
    if (this.book === '') return;
    if (document.hidden) this.close();
    else this.stream.follow(this.book, this.seq);
  }

  private close(): void {
    clearTimeout(this.retry);
    this.stream.leave();
    this.forgetPlace();
  }

  private forgetPlace(): void {
    clearTimeout(this.timer);
    clearTimeout(this.again);
    this.timer = undefined;
    this.connection = '';
    this.told = '';
    this.people.set([]);
  }

  private async hear(event: LiveEvent): Promise<void> {
    if (event.kind === 'people') {
      // One is told of one's own steps too: nothing is drawn anew for those.
      if (JSON.stringify(event.people) !== JSON.stringify(this.people())) this.people.set(event.people);
      return;
    }
    if (event.kind === 'gone') {
      this.forgetPlace();
      this.retry = setTimeout(() => this.lookUp(), REFUSED_PAUSE);
      return;
    }
    // What concerns pages beside the sheet alone, which hear of it by themselves.
    if (!('seq' in event)) return;
    this.seq = Math.max(this.seq, event.seq);
    if (event.kind === 'hello') {
      // A connection that is new knows of no place yet.
      if (event.connection !== this.connection) this.told = '';
      this.connection = event.connection;
      this.tellPlace();
    } else if (event.kind === 'remarks') this.annotations.put(event.remarks);
    else if (event.kind === 'marking') return;
    else if (event.kind === 'beside') {
      const page = event.what.includes('rubric') ? this.store.readPage() : undefined;
      await Promise.all([this.annotations.load(this.book), page]);
    } else if (event.kind === 'book') await Promise.all([this.store.reload(), this.annotations.load(this.book)]);
    else await this.cells(event);
  }

  private async cells(event: LiveEvent & { kind: 'cells' }): Promise<void> {
    const whose = new Map(event.cells.map((c, i) => [c, event.by[i]!]));
    const news = (await this.store.takeOver(event.cells)).filter((c) => whose.get(c) !== '');
    if (news.length === 0) return;
    this.annotations.noteChanged(news);
    const by = [...new Set(news.map((c) => whose.get(c)!))].join(', ');
    this.statusBar.announce(`${by} changed ${news.length === 1 ? this.nameOf(news[0]!) : `${news.length} cells`}.`);
  }

  private nameOf(cell: { enrolment: string; assessment: string }): string {
    const family = this.store.people().get(cell.enrolment)?.family ?? '';
    return `${family}, ${this.store.assessments().get(cell.assessment)?.title ?? ''}`;
  }

  private tellPlace(): void {
    clearTimeout(this.timer);
    clearTimeout(this.again);
    this.timer = undefined;
    const place = JSON.stringify(this.wanted);
    if (this.connection === '' || place === this.told) return;
    this.told = place;
    const { connection } = this;
    this.api
      .send('PUT', `/books/${this.book}/place`, { connection, ...this.wanted })
      .then(() => (this.lostPause = LOST_PAUSE))
      .catch(() => {
        if (this.connection !== connection) return;
        this.told = '';
        clearTimeout(this.again);
        this.again = setTimeout(() => this.tellPlace(), this.lostPause);
        this.lostPause = Math.min(this.lostPause * 2, LONGEST_LOST_PAUSE);
      });
  }
}
