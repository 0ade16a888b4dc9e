import {
  AssessmentGone,
  AssessmentList,
  AssessmentMade,
  AssessmentWrite,
  Copied,
  CopyWrite,
  OrderWrite,
  Templates,
  TemplateWrite,
  NamesShown,
  NewAssessment,
} from '@contract/assessments';
import { copyAssessment } from './copies';
import { requireItemKeys } from '../books';
import { deleteTemplate, putTemplate, templatesOf } from './sql/templates';
import { snapshot } from '../../kernel/database';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';
import { wholeAssessments, makeAssessment, changeAssessment, removeAssessment, orderAssessments } from './assessments';
import { showNames } from './show-names';
import { Done } from '@contract/wire';
export const assessmentRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/assessments',
    permission: 'book-read',
    names: 'free',
    summary: 'All assessments whole, those put away too.',
    answer: AssessmentList,
    handler: ({ pool, school, params }) => snapshot(pool, (db) => wholeAssessments(db, school, params['book']!)),
  }),
  route({
    method: 'post',
    path: '/books/{book}/assessments',
    permission: 'book-make',
    names: 'free',
    summary: 'Make an assessment.',
    body: NewAssessment,
    answer: Done,
    status: 201,
    handler: (c) => makeAssessment(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'patch',
    path: '/books/{book}/assessments/{assessment}',
    permission: 'book-make',
    names: 'free',
    summary: 'Change an assessment. Where its points change and there are scores, say what becomes of them.',
    body: AssessmentWrite,
    answer: AssessmentMade,
    handler: (c) => changeAssessment(c.pool, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'delete',
    path: '/books/{book}/assessments/{assessment}',
    permission: 'book-make',
    names: 'free',
    summary: 'Delete an assessment that nobody ever had anything on.',
    body: AssessmentGone,
    answer: Done,
    handler: (c) => removeAssessment(c.pool, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'put',
    path: '/books/{book}/assessment-order',
    permission: 'book-make',
    names: 'free',
    summary: 'Put the assessments in another order, some in another category.',
    body: OrderWrite,
    maxBytes: LONG_LIST,
    answer: Done,
    handler: (c) => orderAssessments(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/assessments/{assessment}/copies',
    permission: 'book-read',
    names: 'free',
    summary: 'Copy an assessment into another book of one’s own.',
    body: CopyWrite,
    answer: Copied,
    handler: (c) => copyAssessment(c.pool, whoOf(c), c.params['assessment']!, c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/assessments/{assessment}/show-names',
    permission: 'book-make',
    names: 'free',
    summary: 'Say whose work is whose from now on, to everybody who reads the book.',
    body: NamesShown,
    answer: Done,
    handler: (c) => showNames(c.pool, whoOf(c), c.params['assessment']!, c.body.operation),
  }),
  route({
    method: 'get',
    path: '/templates',
    permission: 'staff',
    summary: 'What the person makes assessments from.',
    answer: Templates,
    handler: ({ pool, school, person }) => templatesOf(pool, school, person.id),
  }),
  route({
    method: 'put',
    path: '/templates/{template}',
    permission: 'staff',
    summary: 'Keep a template, or change it.',
    body: TemplateWrite,
    answer: Done,
    async handler({ pool, school, person, params, body }) {
      requireItemKeys(body.body.more as Record<string, unknown>);
      await putTemplate(pool, school, person.id, { id: params['template']!, ...body });
      return { done: true as const };
    },
  }),
  route({
    method: 'delete',
    path: '/templates/{template}',
    permission: 'staff',
    summary: 'Take a template away.',
    answer: Done,
    async handler({ pool, school, person, params }) {
      await deleteTemplate(pool, school, person.id, params['template']!);
      return { done: true as const };
    },
  }),
];
