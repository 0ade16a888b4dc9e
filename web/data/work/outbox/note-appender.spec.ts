import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import * as Y from 'yjs';
import type { EndNoteWrite } from '@contract/work/feedback';
import { soon } from '../../../testing/soon';
import { Api } from '../../api';
import { NoteAppender } from './note-appender';
import { fromBase64, NoteOutbox, toBase64, type NotePlace } from './note-outbox';

/** A server that merges pieces. What is fetched while `early` is set was read before it had merged anything. */
class FakeApi {
  readonly person = signal('writer');
  early = false;
  readonly docs = new Map<string, Y.Doc>();

  private doc(path: string): Y.Doc {
    const doc = this.docs.get(path) ?? new Y.Doc();
    this.docs.set(path, doc);
    return doc;
  }
  async get(path: string): Promise<unknown> {
    return { state: toBase64(Y.encodeStateAsUpdate(this.early ? new Y.Doc() : this.doc(path))) };
  }
  async send(_method: string, path: string, body: EndNoteWrite): Promise<unknown> {
    const doc = this.doc(path);
    Y.applyUpdate(doc, fromBase64(body.update));
    return { version: 1, lacks: toBase64(Y.encodeStateAsUpdate(doc, fromBase64(body.has))) };
  }
}

describe('what is added to end notes', () => {
  let api: FakeApi;
  beforeEach(() => {
    api = new FakeApi();
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  });

  it('stands in the order in which it was added, though the note was fetched before the first was merged', async () => {
    const [appender, outbox] = [TestBed.inject(NoteAppender), TestBed.inject(NoteOutbox)];
    // Which of two that know nothing of each other comes first is chance: many notes, so that chance does not hide it.
    const places = Array.from({ length: 12 }, (_, n): NotePlace => ({ book: 'fens', assessment: 'moss', enrolment: `s${n}`, work: 'w' })); // prettier-ignore
    for (const place of places) expect(await appender.add(place, 'Held up well.')).toBe(true);
    api.early = true;
    for (const place of places) await appender.prepare(place);
    api.early = false;
    await soon(() => expect(outbox.count()).toBe(0));
    for (const place of places) expect(await appender.add(place, 'Name the horizons.')).toBe(true);
    await soon(() => expect(outbox.count()).toBe(0));
    const notes = [...api.docs.values()].map((doc) => doc.getXmlFragment('note').toArray().map((p) => (p as Y.XmlElement).toString())); // prettier-ignore
    expect(notes).toHaveLength(12);
    for (const note of notes)
      expect(note).toEqual(['<paragraph>Held up well.</paragraph>', '<paragraph>Name the horizons.</paragraph>']);
  });
});
