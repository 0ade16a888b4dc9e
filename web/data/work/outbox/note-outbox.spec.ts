import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import * as Y from 'yjs';
import type { EndNoteWrite } from '@contract/work/feedback';
import { Api, ApiProblem } from '../../api';
import { soon } from '../../../testing/soon';
import { fromBase64, NoteOutbox, toBase64 } from './note-outbox';

/** A server that merges pieces, and can be cut off or refuse. */
class FakeApi {
  readonly person = signal('');
  trouble: ConstructorParameters<typeof ApiProblem>[0] | null = null;
  readonly docs = new Map<string, Y.Doc>();
  sends = 0;

  async send(_method: string, path: string, body: EndNoteWrite): Promise<unknown> {
    this.sends++;
    if (this.trouble) throw new ApiProblem(this.trouble, 'no');
    const doc = this.docs.get(path) ?? new Y.Doc();
    this.docs.set(path, doc);
    Y.applyUpdate(doc, fromBase64(body.update));
    return { version: 1, lacks: toBase64(Y.encodeStateAsUpdate(doc, fromBase64(body.has))) };
  }
}

let api: FakeApi;
let outbox: NoteOutbox;
let n = 0;
const place = () => ({ book: 'fens', assessment: 'moss', enrolment: `s${n}`, work: 'hand-1' });
const path = () => `/books/fens/end-notes/moss/s${n}/hand-1`;
const words = (): string => api.docs.get(path())?.getText('t').toString() ?? '';

/** Types as a page does: each piece goes into the outbox. */
function typing(text: string): void {
  const doc = new Y.Doc();
  doc.on('update', (u: Uint8Array) => outbox.put(place(), u));
  for (const [i, c] of [...text].entries()) doc.getText('t').insert(i, c);
}
const begin = (): NoteOutbox => {
  TestBed.resetTestingModule();
  TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: api }] });
  return TestBed.inject(NoteOutbox);
};

beforeEach(() => {
  api = new FakeApi();
  api.person.set(`writer-${++n}`);
  outbox = begin();
});

describe('what is typed of notes', () => {
  it('is gathered and sent until it is merged', async () => {
    typing('hand lens');
    expect(outbox.count()).toBe(1);
    await soon(() => expect(words()).toBe('hand lens'));
    await soon(() => expect(outbox.count()).toBe(0));
    expect(api.sends).toBe(1);
  });

  it('outlives a dead line and the page, and goes in its own person’s name alone', async () => {
    api.trouble = 'offline';
    typing('reed');
    await soon(() => expect(api.sends).toBeGreaterThan(0));
    const mine = api.person();
    // The page is loaded anew, first by somebody else.
    api.trouble = null;
    api.person.set('somebody-else');
    outbox = begin();
    await outbox.open();
    expect([outbox.count(), outbox.unsent(place()).length]).toEqual([0, 0]);
    api.person.set(mine);
    await outbox.open();
    await soon(() => expect(words()).toBe('reed'));
    await soon(() => expect(outbox.count()).toBe(0));
  });

  it('is on this machine’s disk when the page is left at once', async () => {
    api.trouble = 'offline';
    await outbox.open();
    typing('sedge');
    dispatchEvent(new Event('pagehide'));
    // Another page looks at once, long before letters are put by themselves.
    const left = begin();
    await left.open();
    expect(left.unsent(place())).toHaveLength(5);
  });

  it('that the server cannot keep stays here with its sentence, and goes with what is typed at next', async () => {
    api.trouble = 'too-large';
    typing('too long');
    await soon(() => expect(outbox.refusal(place())).toBe('no'));
    expect(outbox.count()).toBe(1);
    api.trouble = null;
    typing('!');
    await soon(() => expect(outbox.count()).toBe(0));
    expect([outbox.refusal(place()), words().includes('too long')]).toEqual(['', true]);
  });

  it('tells an open page what it lacks, and is let go of at sign-out', async () => {
    const theirs = new Y.Doc();
    theirs.getText('t').insert(0, 'theirs');
    api.docs.set(path(), theirs);
    const page = new Y.Doc();
    outbox.watch(place(), () => Y.encodeStateVector(page));
    outbox.merged.subscribe(({ lacks }) => Y.applyUpdate(page, lacks));
    outbox.put(place(), Y.encodeStateAsUpdate(new Y.Doc()));
    await soon(() => expect(page.getText('t').toString()).toBe('theirs'));
    await soon(() => expect(outbox.count()).toBe(0));
    api.trouble = 'offline';
    typing('x');
    await outbox.clear();
    expect(outbox.count()).toBe(0);
  });
});
