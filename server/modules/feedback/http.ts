import {
  EndNote,
  EndNoteMerged,
  EndNoteWords,
  EndNoteWrite,
  FeedbackAttachmentChange,
  FeedbackAttachments,
  FeedbackAttachmentWrite,
  FeedbackWith,
  Phrases,
  PhraseUse,
  PhraseWrite,
  RecordingEnd,
} from '@contract/work/feedback';
import { Done } from '@contract/wire';
import { sendDownload } from '../../http/download';
import { queried, route, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import type { FileStore } from '../../kernel/files/file-store';
import { roleInBook } from '../books';
import { endNote, mergeEndNote } from './end-notes';
import {
  beginFeedbackAttachment,
  changeFeedbackAttachment,
  endRecording,
  feedbackAttachments,
  readFeedbackAttachment,
} from './feedback-attachments';
import { endNoteWords, feedbackWith } from './feedback-with';
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

const FILES = '/books/{book}/feedback-attachments/{assessment}/{enrolment}/{work}';

const noteRoutes: Route[] = [
  route({
    method: 'get',
    path: NOTE,
    permission: 'book-read',
    names: 'work',
    summary: 'The end note of one piece of work, as a Yjs update.',
    answer: EndNote,
    handler: (c) => snapshot(c.pool, (db) => endNote(db, placeOf(c))),
  }),
  route({
    method: 'post',
    path: NOTE,
    permission: 'book-scores',
    names: 'work',
    summary: 'Merge what was typed into an end note; gives what the page lacks. It may be sent again.',
    body: EndNoteWrite,
    maxBytes: 900_000,
    answer: EndNoteMerged,
    handler: (c) => mergeEndNote(c.pool, c.person.id, placeOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/assessments/{assessment}/end-notes',
    permission: 'book-read',
    names: 'work',
    summary: 'What each end note of an assessment says, in short.',
    answer: EndNoteWords,
    handler: ({ pool, school, params }) =>
      snapshot(pool, (db) => endNoteWords(db, { school, book: params['book']!, assessment: params['assessment']! })),
  }),
  route({
    method: 'get',
    path: '/books/{book}/assessments/{assessment}/feedback-with',
    permission: 'book-read',
    names: 'work',
    summary: 'Whose end note or comments have the `words` of a phrase.',
    answer: FeedbackWith,
    handler: ({ pool, school, params, request }) => {
      const place = { school, book: params['book']!, assessment: params['assessment']! };
      return snapshot(pool, (db) => feedbackWith(db, place, queried(request, 'words') ?? ''));
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/phrases',
    permission: 'book-read',
    names: 'free',
    summary: 'Phrases that one may use in a book, the most used first.',
    answer: Phrases,
    handler: async (c) => phrases(c.pool, await readerOf(c)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/phrases/{id}',
    permission: 'book-scores',
    names: 'free',
    summary: 'Write a phrase, or take it out. Version 0 makes one.',
    body: PhraseWrite,
    answer: Phrases,
    handler: async (c) => writePhrase(c.pool, await readerOf(c), c.params['id']!, c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/phrases/{id}/uses',
    permission: 'book-scores',
    names: 'free',
    summary: 'Count that a phrase was put into a note.',
    body: PhraseUse,
    answer: Done,
    handler: async (c) => usePhrase(c.pool, await readerOf(c), c.params['id']!, c.body.operation),
  }),
];

const fileRoutes = (files: FileStore): Route[] => [
  route({
    method: 'get',
    path: FILES,
    permission: 'book-read',
    names: 'work',
    summary: 'Recordings and files beside one piece of work, those that were taken off too.',
    answer: FeedbackAttachments,
    handler: (c) => snapshot(c.pool, (db) => feedbackAttachments(db, placeOf(c), c.person.id)),
  }),
  route({
    method: 'post',
    path: FILES,
    permission: 'book-scores',
    names: 'work',
    summary: 'A recording or a file is to come: its upload is begun. It may be sent again.',
    body: FeedbackAttachmentWrite,
    answer: FeedbackAttachments,
    handler: (c) => beginFeedbackAttachment(c.pool, files, c.config.room, c.person.id, placeOf(c), c.body),
  }),
  route({
    method: 'post',
    path: `${FILES}/{file}/end`,
    permission: 'book-scores',
    names: 'work',
    summary: 'A recording has what has come of it and no more.',
    body: RecordingEnd,
    answer: FeedbackAttachments,
    handler: (c) => endRecording(c.pool, files, c.person.id, placeOf(c), c.params['file']!, c.body),
  }),
  route({
    method: 'put',
    path: `${FILES}/{file}`,
    permission: 'book-scores',
    names: 'work',
    summary: 'Take a file off, or put it back.',
    body: FeedbackAttachmentChange,
    answer: FeedbackAttachments,
    handler: (c) => changeFeedbackAttachment(c.pool, c.person.id, placeOf(c), c.params['file']!, c.body),
  }),
  route({
    method: 'get',
    path: `${FILES}/{file}`,
    permission: 'book-read',
    names: 'work',
    summary: 'A recording or a file beside one piece of work.',
    answer: 'application/octet-stream',
    async stream(c) {
      await sendDownload(c, files, await readFeedbackAttachment(c.pool, placeOf(c), c.params['file']!));
    },
  }),
];

export const feedbackRoutes = (files: FileStore): Route[] => [...noteRoutes, ...fileRoutes(files)];
