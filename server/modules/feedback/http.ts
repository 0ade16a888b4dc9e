import { EndNote, EndNoteMerged, EndNoteWrite, Phrases, PhraseUse, PhraseWrite } from '@contract/feedback';
import { Done } from '@contract/wire';
import { route, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { roleInBook } from '../books';
import { endNote, mergeEndNote } from './end-notes';
import { phrases, usePhrase, writePhrase, type PhraseReader } from './phrases';

const placeOf = ({ school, params }: Pick<Call<unknown>, 'school' | 'params'>) => ({
  school,
  book: params['book']!,
  assessment: params['assessment']!,
  enrolment: params['enrolment']!,
  work: params['work']!,
});

async function readerOf({
  pool,
  school,
  person,
  params,
}: Pick<Call<unknown>, 'pool' | 'school' | 'person' | 'params'>): Promise<PhraseReader> {
  // prettier-ignore
  const book = params['book']!;
  const role = await roleInBook(pool, school, book, person.id);
  return { school, book, person: person.id, manages: role === 'teacher' || role === 'co-teacher' };
}
const NOTE = '/books/{book}/end-notes/{assessment}/{enrolment}/{work}';

export const feedbackRoutes: Route[] = [
  route({
    method: 'get',
    path: NOTE,
    permission: 'book-read',
    summary: 'The end note of one piece of work, as a Yjs update.',
    answer: EndNote,
    handler: (c) => snapshot(c.pool, (db) => endNote(db, placeOf(c))),
  }),
  route({
    method: 'post',
    path: NOTE,
    permission: 'book-scores',
    summary: 'Merge what was typed into an end note; gives what the page lacks. It may be sent again.',
    body: EndNoteWrite,
    maxBytes: 900_000,
    answer: EndNoteMerged,
    handler: (c) => mergeEndNote(c.pool, c.person.id, placeOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/phrases',
    permission: 'book-read',
    summary: 'Phrases that one may use in a book, the most used first.',
    answer: Phrases,
    handler: async (c) => phrases(c.pool, await readerOf(c)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/phrases/{id}',
    permission: 'book-scores',
    summary: 'Write a phrase, or take it out. Version 0 makes one.',
    body: PhraseWrite,
    answer: Phrases,
    handler: async (c) => writePhrase(c.pool, await readerOf(c), c.params['id']!, c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/phrases/{id}/uses',
    permission: 'book-scores',
    summary: 'Count that a phrase was put into a note.',
    body: PhraseUse,
    answer: Done,
    handler: async (c) => usePhrase(c.pool, await readerOf(c), c.params['id']!, c.body.operation),
  }),
];
