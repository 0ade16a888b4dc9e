import {
  LevelsMade,
  LevelsWrite,
  Marking,
  RubricChoices,
  RubricPage,
  RubricTrial,
  RubricTrialAsk,
  RubricWrite,
} from '@contract/work/marking';
import { queried, route, whoOf, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { markingOf, writeLevels } from './levels';
import { rubricsWithin } from './sql/rubrics';
import { rubricPage, tryRubric, writeRubric } from './rubric-change';

const placeOf = ({ school, params }: Pick<Call<unknown>, 'school' | 'params'>) => ({
  school,
  book: params['book']!,
  assessment: params['assessment']!,
});
const AT = '/books/{book}/assessments/{assessment}';

export const markingRoutes: Route[] = [
  route({
    method: 'get',
    path: `${AT}/marking`,
    permission: 'book-read',
    names: 'work',
    summary:
      'What everybody’s work for an assessment was given so far, criterion by criterion; of one `enrolment` where it is said.',
    answer: Marking,
    handler: (c) =>
      snapshot(c.pool, (db) => markingOf(db, placeOf(c), c.names.student(queried(c.request, 'enrolment')))),
  }),
  route({
    method: 'put',
    path: '/books/{book}/levels/{assessment}/{enrolment}',
    permission: 'book-scores',
    names: 'work',
    summary: 'Give criteria of one piece of work, with the score that follows.',
    body: LevelsWrite,
    answer: LevelsMade,
    handler: (c) =>
      writeLevels(c.pool, whoOf(c), { assessment: c.params['assessment']!, enrolment: c.params['enrolment']! }, c.body),
  }),
  route({
    method: 'get',
    path: `${AT}/rubric`,
    permission: 'book-read',
    names: 'free',
    summary: 'What an assessment is marked by, with its earlier versions.',
    answer: RubricPage,
    handler: (c) => snapshot(c.pool, (db) => rubricPage(db, placeOf(c))),
  }),
  route({
    method: 'post',
    path: `${AT}/rubric/trial`,
    permission: 'book-manage',
    names: 'work',
    summary: 'Whose score a changed rubric would move, and whose work it concerns. Changes nothing.',
    body: RubricTrialAsk,
    maxBytes: 500_000,
    answer: RubricTrial,
    handler: (c) => snapshot(c.pool, (db) => tryRubric(db, placeOf(c), c.body.rubric)),
  }),
  route({
    method: 'put',
    path: `${AT}/rubric`,
    permission: 'book-manage',
    names: 'work',
    summary: 'Write what an assessment is marked by. `trial` names what was shown to move, where something does.',
    body: RubricWrite,
    maxBytes: 500_000,
    answer: RubricPage,
    handler: (c) => writeRubric(c.pool, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'get',
    path: '/rubrics',
    permission: 'staff-or-office',
    summary: 'Assessments with a rubric in the books that one works in.',
    answer: RubricChoices,
    handler: (c) => rubricsWithin(c.pool, c.school, c.person.id),
  }),
];
