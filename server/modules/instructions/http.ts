import { HandoutRemoval, HandoutWrite, Instructions, InstructionsWrite } from '@contract/work/instructions';
import { sendDownload } from '../../http/download';
import { route, whoOf, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import type { FileStore } from '../../kernel/files/file-store';
import { addHandout, handoutFile, removeHandout, staffInstructions, writeInstructions } from './instructions';

const placeOf = ({ school, params }: Pick<Call<unknown>, 'school' | 'params'>) => ({
  school,
  book: params['book']!,
  assessment: params['assessment']!,
});
const AT = '/books/{book}/assessments/{assessment}';

export const instructionRoutes = (files: FileStore): Route[] => [
  route({
    method: 'get',
    path: `${AT}/instructions`,
    permission: 'book-read',
    names: 'free',
    summary: 'What an assessment asks for, with its files.',
    answer: Instructions,
    handler: (c) => snapshot(c.pool, (db) => staffInstructions(db, placeOf(c))),
  }),
  route({
    method: 'put',
    path: `${AT}/instructions`,
    permission: 'book-manage',
    names: 'free',
    summary: 'Write what an assessment asks for. What is no text, list or link is not taken.',
    body: InstructionsWrite,
    maxBytes: 500_000,
    answer: Instructions,
    handler: (c) => writeInstructions(c.pool, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'post',
    path: `${AT}/handouts`,
    permission: 'book-manage',
    names: 'free',
    summary: 'A file is to come that goes with the assessment: its upload is begun.',
    body: HandoutWrite,
    answer: Instructions,
    handler: (c) => addHandout(c.pool, files, c.config.room, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'post',
    path: `${AT}/handouts/{file}/remove`,
    permission: 'book-manage',
    names: 'free',
    summary: 'Take a file out.',
    body: HandoutRemoval,
    answer: Instructions,
    handler: (c) => removeHandout(c.pool, whoOf(c), c.params['assessment']!, c.params['file']!, c.body),
  }),
  route({
    method: 'get',
    path: `${AT}/handouts/{file}`,
    permission: 'book-read',
    names: 'free',
    summary: 'A file that goes with the assessment.',
    answer: 'application/octet-stream',
    async stream(c) {
      await sendDownload(c, files, await handoutFile(c.pool, placeOf(c), c.params['file']!));
    },
  }),
];
