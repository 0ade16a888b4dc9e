import {
  AnnotationPage,
  AnnotationsBrought,
  AnnotationsWrite,
  WorkMarkRow,
  WorkMarks,
  WorkMarkWrite,
} from '@contract/work/marks';
import { route, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { annotationPage, bringAnnotations } from './annotation-page';
import { putMark, workMarks } from './work-marks';

const placeOf = ({ school, params }: Pick<Call<unknown>, 'school' | 'params'>) => ({
  ...{ school, book: params['book']!, submission: params['submission']! },
});
const WORK = '/books/{book}/submissions/{submission}';

export const workMarkRoutes: Route[] = [
  route({
    method: 'get',
    path: `${WORK}/marks`,
    permission: 'book-read',
    names: 'work',
    summary: 'The marks on one piece of work.',
    answer: WorkMarks,
    handler: (c) => snapshot(c.pool, (db) => workMarks(db, placeOf(c), c.person.id)),
  }),
  route({
    method: 'put',
    path: `${WORK}/marks/{mark}`,
    permission: 'book-scores',
    names: 'work',
    summary: 'Make a mark on the work, change it or take it off. It may be sent again.',
    body: WorkMarkWrite,
    maxBytes: 1_500_000,
    answer: WorkMarkRow,
    handler: (c) => putMark(c.pool, c.person.id, placeOf(c), c.params['mark']!, c.body),
  }),
  route({
    method: 'get',
    path: `${WORK}/annotations`,
    permission: 'book-read',
    names: 'work',
    summary: 'The marks on one piece of work as a W3C annotation page.',
    answer: AnnotationPage,
    handler: (c) => snapshot(c.pool, (db) => annotationPage(db, placeOf(c))),
  }),
  route({
    method: 'post',
    path: `${WORK}/annotations`,
    permission: 'book-scores',
    names: 'work',
    summary: 'Bring in W3C annotations as marks on the work. It may be sent again.',
    body: AnnotationsWrite,
    maxBytes: 5_000_000,
    answer: AnnotationsBrought,
    handler: (c) => bringAnnotations(c.pool, c.person.id, placeOf(c), c.body),
  }),
];
