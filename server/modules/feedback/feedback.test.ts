import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import * as Y from 'yjs';
import fc from 'fast-check';
import { wordsOf } from '@core/text/rich-text';
import type { EndNote, EndNoteWords, FeedbackWith, Phrases } from '@contract/work/feedback';
import type { JournalPage } from '@contract/history';
import { HandingIn } from '../../testing/hand-in';
import { misformattedLines } from '../../testing/journal-formats';
import { b64, NoteWriter as Writer, unb64 } from '../../testing/note-writer';
import { operation, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { phrasePattern } from './feedback-with';
import { restFeedback } from './feedback-rests';
import { docOf, noteText, NOTE_FRAGMENT } from './note-text';

let school: TestSchool;
let handing: HandingIn;
let id: string;
beforeAll(async () => {
  school = await testSchool();
  handing = new HandingIn(school);
  id = await handing.assessment();
});
afterAll(() => school.close());

const path = (work = 'hand-1', enrolment = school.adaId): string => `/books/fens/end-notes/${id}/${enrolment}/${work}`;
const kept = async (p: string): Promise<string> =>
  wordsOf(noteText(docOf(unb64((await school.teacher.must<EndNote>('GET', p)).state)))).trim();

describe('an end note', () => {
  it('is merged from what several type, whichever comes first and however often', async () => {
    const [a, b] = [new Writer(school.teacher, path()), new Writer(school.marker, path())];
    expect(await school.teacher.must('GET', path())).toMatchObject({ version: 0, at: null });
    a.type('Clear drawing.');
    b.type('Say how you know.');
    const again = { update: b64(a.update), has: b64(Y.encodeStateVector(a.doc)) };
    expect((await a.send()).version).toBe(1);
    // A lost answer: it is sent once more, and is there once.
    expect(await school.teacher.must('POST', path(), again)).toMatchObject({ version: 1 });
    expect((await b.send()).version).toBe(2);
    await a.send();
    expect(a.words).toBe(b.words);
    expect(a.words.split('\n').sort()).toEqual(['Clear drawing.', 'Say how you know.']);
    expect(await kept(path())).toBe(a.words);
    // What is taken out is gone for both.
    a.doc.getXmlFragment(NOTE_FRAGMENT).delete(0, 1);
    await a.send();
    await b.send();
    expect(b.words.split('\n')).toHaveLength(1);
  });

  it('keeps every character of two who type at once, in any order of sending', async () => {
    let n = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.boolean(), fc.boolean()), { minLength: 1, maxLength: 8 }), async (acts) => {
        const place = path(`hand-${++n + 10}`);
        const [a, b] = [new Writer(school.teacher, place), new Writer(school.marker, place)];
        const typed: string[] = [];
        for (const [first, sends] of acts) {
          const writer = first ? a : b;
          typed.push(`w${typed.length}`);
          writer.type(typed.at(-1)!, 0);
          if (sends) await writer.send();
        }
        for (const w of [a, b, a]) await w.send();
        expect(a.words).toBe(b.words);
        expect(a.words.split('\n').sort()).toEqual([...typed].sort());
        expect(await kept(place)).toBe(a.words);
      }),
      { numRuns: 15 },
    );
  });

  it('leaves one line in the journal when it comes to rest, with its hash and not its words', async () => {
    const writer = new Writer(school.coTeacher, path('hand-3'));
    for (const word of ['Secret', 'words']) {
      writer.type(word);
      await writer.send();
    }
    const person = (await school.pool.query(`select person from end_note where work = 'hand-3'`)).rows[0]!.person as string; // prettier-ignore
    const of = { school: 'tarn', book: 'fens', person };
    expect(await restFeedback(school.pool, of)).toBe(0);
    expect(await restFeedback(school.pool, of, 0)).toBe(1);
    expect(await restFeedback(school.pool, of, 0)).toBe(0);
    const { sets } = await school.teacher.must<JournalPage>('GET', `/books/fens/journal?enrolment=${school.adaId}`);
    expect(sets[0]).toMatchObject({ kind: 'feedback', undoable: false });
    expect(JSON.stringify(sets)).not.toContain('Secret');
    expect(await misformattedLines(school.pool)).toEqual([]);
  });

  it('holds no markup: what is no text of ours is left out of what is read', () => {
    const doc = new Y.Doc();
    const script = new Y.XmlElement('script');
    script.insert(0, [new Y.XmlText('alert(1)')]);
    const image = new Y.XmlElement('image');
    image.setAttribute('src', 'https://x.example/');
    const link = new Y.XmlText();
    link.insert(0, 'here', { link: { href: 'javascript:alert(1)' } });
    const paragraph = new Y.XmlElement('paragraph');
    paragraph.insert(0, [link]);
    doc.getXmlFragment(NOTE_FRAGMENT).insert(0, [script, image, paragraph]);
    const text = JSON.stringify(noteText(doc));
    expect(text).toContain('here');
    for (const bad of ['script', 'image', 'javascript', 'x.example']) expect(text).not.toContain(bad);
  });

  it('refuses what is no piece of it, what is too long, and places that are none', async () => {
    const send = (body: object, p = path('hand-4'), who = school.teacher) => who.send('POST', p, body);
    const none = b64(Y.encodeStateVector(new Y.Doc()));
    for (const update of ['AAECAw==', b64(Buffer.from('no update at all, but some bytes of a kind')), '////'])
      expect((await send({ update, has: none })).status).toBe(400);
    expect((await send({ update: 'not base64!', has: none })).status).toBe(400);
    // A piece whose forerunner never came.
    const later = new Writer(school.teacher, path());
    later.type('one');
    const vector = Y.encodeStateVector(later.doc);
    later.type('two');
    const half = b64(Y.encodeStateAsUpdate(later.doc, vector));
    expect((await send({ update: half, has: none })).status).toBe(400);
    const long = new Writer(school.teacher, path());
    long.type('x'.repeat(50_001));
    expect((await send({ update: b64(long.update), has: none })).status).toBe(413);
    expect(await kept(path('hand-4'))).toBe('');
    const fine = { update: b64(Y.encodeStateAsUpdate(new Y.Doc())), has: none };
    const submission = (await handing.handIn(id)).id;
    for (const [p, status] of [
      [path(submission), 200],
      [path(submission, school.benId), 404],
      [path('hand-0'), 404],
      [path('sub-of-nobody'), 404],
      [path('hand-1', 'nobody'), 404],
      [`/books/fens/end-notes/elsewhere/${school.adaId}/hand-1`, 404],
    ] as const)
      expect([p, (await send(fine, p)).status]).toEqual([p, status]);
    expect((await send(fine, path(), school.reviewer)).status).toBe(403);
    expect((await school.reviewer.send('GET', path())).status).toBe(200);
    for (const who of [school.stranger, school.ada])
      for (const method of ['GET', 'POST'])
        expect([403, 404]).toContain((await who.send(method, path(), method === 'POST' ? fine : undefined)).status);
  });
});

describe('phrases', () => {
  const put = (phrase: string, body: object, who = school.teacher) =>
    who.send<Phrases>('PUT', `/books/fens/phrases/${phrase}`, body);
  const list = async (who: Person) => (await who.must<Phrases>('GET', '/books/fens/phrases')).map((f) => f.words);

  it('are one’s own, the book’s or the school’s, counted once for each use, the most used first', async () => {
    await put('own', { version: 0, scope: 'own', words: 'Mine alone.' });
    await put('shared', { version: 0, scope: 'book', words: 'Give the hand-texture result, {given}.' }, school.marker);
    await put('all', { version: 0, scope: 'school', words: 'Well argued.' });
    expect((await put('no', { version: 0, scope: 'school', words: 'No.' }, school.marker)).status).toBe(403);
    expect(await list(school.coTeacher)).toEqual(['Give the hand-texture result, {given}.', 'Well argued.']);
    const use = { operation: operation() };
    for (const body of [use, use, { operation: operation() }])
      await school.coTeacher.must('POST', '/books/fens/phrases/all/uses', body);
    const all = await school.teacher.must<Phrases>('GET', '/books/fens/phrases');
    expect(all.map((f) => [f.id, f.uses, f.mine])).toEqual([
      ['all', 2, true],
      ['own', 0, true],
      ['shared', 0, true],
    ]);
    expect((await school.stranger.send('GET', '/books/fens/phrases')).status).toBe(404);
    expect((await school.coTeacher.send('POST', '/books/fens/phrases/own/uses', { operation: operation() })).status).toBe(404); // prettier-ignore
  });

  it('are changed in one place by whose they are, never unseen, and taken out', async () => {
    await put('mine', { version: 0, scope: 'own', words: 'First.' });
    const next = { version: 1, scope: 'book', words: 'Second.' };
    expect((await put('mine', next)).status).toBe(200);
    // The answer was lost: the same again is done once.
    expect((await put('mine', next)).status).toBe(200);
    expect((await put('mine', { version: 1, scope: 'own', words: 'Third.' })).status).toBe(409);
    expect((await put('mine', { version: 2, scope: 'own', words: 'Theirs.' }, school.marker)).status).toBe(404);
    expect((await put('mine', { version: 2, scope: 'book', words: null })).status).toBe(200);
    expect(await list(school.teacher)).not.toContain('Second.');
    expect((await put('nobody', { version: 0, scope: 'own', words: null })).status).toBe(404);
    expect((await put('blank', { version: 0, scope: 'own', words: '   ' })).status).toBe(400);
  });
});

describe('words of a phrase that was changed', () => {
  it('are found in themselves, whatever characters they have', () => {
    for (const unit of ['grapheme', 'binary'] as const) {
      const words = fc.string({ unit, minLength: 1 }).filter((w) => w.trim() !== '');
      fc.assert(
        fc.property(words, (w) => phrasePattern(w).test(`Before. ${w} After.`)),
        { numRuns: 2_000 },
      );
    }
    expect('Give it, Ada Maria: now.').toMatch(phrasePattern('Give it, {given}: now.'));
    expect('Give it: then.').not.toMatch(phrasePattern('Give it, {given}: now.'));
  });

  it('are found in the end notes and the comments that have them, whatever name was filled in', async () => {
    const assessment = await handing.assessment();
    const submission = await handing.handIn(assessment);
    const note = async (enrolment: string, words: string): Promise<void> => {
      const w = new Writer(school.teacher, `/books/fens/end-notes/${assessment}/${enrolment}/hand-1`);
      w.type(words);
      await w.send();
    };
    await note(school.benId, 'Well done. Give the (hand)  texture result, Ben: it counts.');
    const found = async (words: string, who = school.marker) =>
      (await who.must<FeedbackWith>('GET', `/books/fens/assessments/${assessment}/feedback-with?words=${encodeURIComponent(words)}`)).enrolments; // prettier-ignore
    expect(await found('Give the (hand) texture result, {given}:')).toEqual([school.benId]);
    const said = await school.reviewer.must<EndNoteWords>('GET', `/books/fens/assessments/${assessment}/end-notes`);
    const words = 'Well done. Give the (hand) texture result, Ben: it counts.';
    expect(said).toEqual([{ enrolment: school.benId, work: 'hand-1', words }]);
    expect((await school.ada.send('GET', `/books/fens/assessments/${assessment}/end-notes`)).status).toBe(403);
    expect(await found('give the (hand)')).toEqual([]);
    expect(await found('.*')).toEqual([]);
    expect(await found('  ')).toEqual([]);
    const mark = {
      kind: 'note',
      ink: 'plum',
      surface: { on: 'whole', index: 0 },
      comment: 'Well argued.',
      at: [0.5, 0.1],
    };
    await school.teacher.must('PUT', `/books/fens/submissions/${submission.id}/marks/${randomUUID()}`, { version: 0, leaf: 'typed', mark }); // prettier-ignore
    expect(await found('Well argued.')).toEqual([school.adaId]);
    const path = `/books/fens/assessments/${assessment}/feedback-with?words=x`;
    expect((await school.ada.send('GET', path)).status).toBe(403);
    expect((await school.stranger.send('GET', path)).status).toBe(404);
    expect((await school.teacher.send('GET', path.replace(assessment, 'elsewhere'))).status).toBe(404);
  });
});
