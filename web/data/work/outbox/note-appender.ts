import { inject, Injectable } from '@angular/core';
import type * as Yjs from 'yjs';
import type { EndNote } from '@contract/work/feedback';
import { Api } from '../../api';
import { fromBase64, NoteOutbox, noteKey, notePath, type NotePlace } from './note-outbox';

/** Adds words to end notes without opening them: each a paragraph of its own, at the end. */
@Injectable({ providedIn: 'root' })
export class NoteAppender {
  private readonly api = inject(Api);
  private readonly outbox = inject(NoteOutbox);
  private yjs: typeof Yjs | null = null;
  /** Notes as they were when somebody began to write beside them. */
  private readonly docs = new Map<string, Yjs.Doc>();
  /** What a person added here, by note: one may have been fetched before the server had all of it. */
  private readonly added = new Map<string, Uint8Array[]>();

  /** Somebody is about to write: the note is fetched, so that what is added stands at its end. */
  async prepare(place: NotePlace): Promise<void> {
    this.yjs ??= await import('yjs').catch(() => null);
    if (!this.yjs) return;
    const doc = new this.yjs.Doc();
    try {
      const { state } = await this.api.get<EndNote>(notePath(place));
      this.yjs.applyUpdate(doc, fromBase64(state), 'kept');
    } catch (error) {
      // Without a line what is added stands in the note all the same, perhaps not at its end.
      console.warn('a note could not be fetched before something was added to it', error);
    }
    this.docs.set(noteKey(place), doc);
  }

  /** Adds words. False: what that needs is not there yet. */
  async add(place: NotePlace, words: string): Promise<boolean> {
    if (!this.yjs || !this.docs.has(noteKey(place))) await this.prepare(place);
    if (!this.yjs) return false;
    const { applyUpdate, Doc, XmlElement, XmlText } = this.yjs;
    const key = noteKey(place);
    const doc = this.docs.get(key) ?? new Doc();
    const own = `${this.api.person()} ${key}`;
    const added = this.added.get(own) ?? [];
    for (const piece of [...added, ...this.outbox.unsent(place)]) applyUpdate(doc, piece, 'kept');
    doc.on('update', (update: Uint8Array, origin: unknown) => {
      if (origin === 'kept') return;
      this.added.set(own, [...added, update]);
      this.outbox.put(place, update);
    });
    const paragraph = new XmlElement('paragraph');
    paragraph.insert(0, [new XmlText(words)]);
    doc.getXmlFragment('note').push([paragraph]);
    this.docs.delete(key);
    return true;
  }
}
