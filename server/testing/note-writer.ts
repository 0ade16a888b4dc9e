import * as Y from 'yjs';
import type { EndNoteMerged } from '@contract/work/feedback';
import { wordsOf } from '@core/text/rich-text';
import { noteText, NOTE_FRAGMENT } from '../modules/feedback/note-text';
import type { Person } from './person';

export const b64 = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
export const unb64 = (text: string): Uint8Array => new Uint8Array(Buffer.from(text, 'base64'));

/** A page with a note open, as the browser has it. */
export class NoteWriter {
  readonly doc = new Y.Doc();
  private unsent: Uint8Array[] = [];
  constructor(
    readonly who: Person,
    readonly path: string,
  ) {
    this.doc.on('update', (update: Uint8Array, origin: unknown) => {
      if (origin !== 'server') this.unsent.push(update);
    });
  }

  type(words: string, at?: number): void {
    const paragraph = new Y.XmlElement('paragraph');
    paragraph.insert(0, [new Y.XmlText(words)]);
    const fragment = this.doc.getXmlFragment(NOTE_FRAGMENT);
    fragment.insert(at ?? fragment.length, [paragraph]);
  }

  get update(): Uint8Array {
    return this.unsent.length === 0 ? Y.encodeStateAsUpdate(new Y.Doc()) : Y.mergeUpdates(this.unsent);
  }

  async send(): Promise<EndNoteMerged> {
    const sent = this.update;
    const body = { update: b64(sent), has: b64(Y.encodeStateVector(this.doc)) };
    const merged = await this.who.must<EndNoteMerged>('POST', this.path, body);
    this.unsent = [];
    Y.applyUpdate(this.doc, unb64(merged.lacks), 'server');
    return merged;
  }

  get words(): string {
    return wordsOf(noteText(this.doc)).trim();
  }
}
