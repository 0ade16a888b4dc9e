import { computed, inject, Injectable, signal } from '@angular/core';
import { Subject } from 'rxjs';
import type { EndNoteMerged } from '@contract/work/feedback';
import { Api, ApiProblem, newOperation } from '../../api';
import { afterPaint } from '../../../ui/timing/after-paint';
import { LocalStore } from './local-store';
import { Sender, waits } from './sender';

/** Where an end note stands. */
export interface NotePlace {
  book: string;
  assessment: string;
  enrolment: string;
  work: string;
}

/** A piece of what was typed that the server has not merged yet: a Yjs update. */
interface UnsentPiece {
  id: string;
  person: string;
  place: NotePlace;
  update: Uint8Array<ArrayBuffer>;
}

export const noteKey = (p: NotePlace): string => `${p.book} ${p.assessment} ${p.enrolment} ${p.work}`;
export const notePath = (p: NotePlace): string => `/books/${p.book}/end-notes/${p.assessment}/${p.enrolment}/${p.work}`;
/** Milliseconds that what is typed is gathered before it is sent. */
const GATHERED = 400;
/** The state vector of a document that has nothing. */
const NOTHING = new Uint8Array([0]);

export const toBase64 = (bytes: Uint8Array): string => {
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192) text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(text);
};
export const fromBase64 = (text: string): Uint8Array<ArrayBuffer> =>
  Uint8Array.from(atob(text), (c) => c.charCodeAt(0));

/**
 * Sends what is typed in end notes until the server has merged it: over a dead line, a reload, another sign-in. What comes
 * twice or in another order does no harm, since pieces of a text are merged.
 */
@Injectable({ providedIn: 'root' })
export class NoteOutbox {
  private readonly api = inject(Api);
  /** No signal: the next letter of a note that waits already is no news for anybody. */
  private pieces: UnsentPiece[] = [];
  private readonly waiting = signal<readonly { person: string; note: string }[]>([]);
  private readonly disk = new LocalStore<UnsentPiece>(
    'last-tally-notes',
    'pieces',
    'id',
    'what was typed could not be kept on this machine',
  );
  private readonly sender = new Sender(
    this.api,
    () => this.next(),
    (pieces) => this.send(pieces),
  );
  private readonly vectors = new Map<string, () => Uint8Array>();
  readonly failing = this.disk.failing;
  private readonly stuck = signal<ReadonlyMap<string, string>>(new Map());
  /** What the server has that a page lacks, and the version that the note has with it. */
  readonly merged = new Subject<{ place: NotePlace; lacks: Uint8Array; version: number }>();
  /** Notes with something that is not kept yet. */
  readonly unkept = computed(
    () => new Set(this.waiting().flatMap((w) => (w.person === this.api.person() ? [w.note] : []))),
  );

  constructor() {
    globalThis.addEventListener?.('beforeunload', (event) => {
      if (this.failing() && this.unkept().size > 0) event.preventDefault();
    });
  }

  /** Why a note cannot be kept as it is; '' where nothing is wrong. */
  refusal(place: NotePlace): string {
    return this.stuck().get(noteKey(place)) ?? '';
  }

  /** Takes up what was left on this machine by whoever is signed in. */
  async open(): Promise<void> {
    const kept = await this.disk.all();
    const known = new Set(this.pieces.map((p) => p.id));
    this.pieces.unshift(...kept.filter((p) => !known.has(p.id)));
    kept.forEach((p) => this.addWaiting(p));
    this.sender.soon(0);
  }

  /** What was typed of a note and is not merged yet, in its order. */
  unsent(place: NotePlace): Uint8Array[] {
    const key = noteKey(place);
    return this.pieces.flatMap((p) => (p.person === this.api.person() && noteKey(p.place) === key ? [p.update] : []));
  }

  put(place: NotePlace, update: Uint8Array): void {
    const piece = { id: newOperation(), person: this.api.person(), place, update: new Uint8Array(update) };
    this.pieces.push(piece);
    this.addWaiting(piece);
    this.disk.putSoon(piece);
    if (this.stuck().has(noteKey(place)))
      this.stuck.update((all) => new Map([...all].filter(([key]) => key !== noteKey(place))));
    this.sender.soon(GATHERED);
  }

  private addWaiting({ person, place }: UnsentPiece): void {
    const note = noteKey(place);
    if (this.waiting().some((w) => w.person === person && w.note === note)) return;
    this.waiting.update((all) => [...all, { person, note }]);
  }

  /** Lets go of pieces; a note of which none is left waits no more. */
  private drop(gone: readonly UnsentPiece[]): void {
    const ids = new Set(gone.map((p) => p.id));
    this.pieces = this.pieces.filter((p) => !ids.has(p.id));
    const left = new Set(this.pieces.map((p) => `${p.person} ${noteKey(p.place)}`));
    this.waiting.update((all) => all.filter((w) => left.has(`${w.person} ${w.note}`)));
  }

  /** A page has this note open: it says what it has, so that it is told what it lacks. Gives how that ends. */
  watch(place: NotePlace, vector: () => Uint8Array): () => void {
    this.vectors.set(noteKey(place), vector);
    return () => this.vectors.delete(noteKey(place));
  }

  count(): number {
    return this.unkept().size;
  }

  /** Lets go of what waits, after its person said so at sign-out. */
  async clear(): Promise<void> {
    const person = this.api.person();
    const gone = this.pieces.filter((p) => p.person === person);
    this.drop(gone);
    await this.disk.remove(gone);
  }

  /** A note whose turn it is, with its pieces. */
  private next(): UnsentPiece[] | null {
    const stuck = this.stuck();
    const mine = this.pieces.filter((p) => p.person === this.api.person() && !stuck.has(noteKey(p.place)));
    const [first] = mine;
    return first ? mine.filter((p) => noteKey(p.place) === noteKey(first.place)) : null;
  }

  private async send(pieces: UnsentPiece[]): Promise<void> {
    const { place } = pieces[0]!;
    const key = noteKey(place);
    const { mergeUpdates } = await import('yjs');
    const has = this.vectors.get(key)?.() ?? NOTHING;
    const body = { update: toBase64(mergeUpdates(pieces.map((p) => p.update))), has: toBase64(has) };
    await afterPaint();
    try {
      const { lacks, version } = await this.api.send<EndNoteMerged>('POST', notePath(place), body);
      this.merged.next({ place, lacks: fromBase64(lacks), version });
    } catch (error) {
      const problem = error instanceof ApiProblem ? error : new ApiProblem('offline', String(error));
      if (waits(problem)) throw problem;
      // It stays here, and goes with what is typed at next: shortened, it may be kept.
      this.stuck.update((all) => new Map(all).set(key, problem.detail));
      return;
    }
    this.drop(pieces);
    await this.disk.remove(pieces);
  }
}
