import { Type } from '@sinclair/typebox';
import { canonical } from '@core/book/canonical';
import { WorkSettings } from '@contract/work/submissions';
import { Amount, Id, Maybe, Moment, Shape } from '@contract/wire';
import { Refusal } from '../../kernel/refusal';
import {
  assessmentText,
  type BookNow,
  CANNOT,
  frameWay,
  type JournalKindDefinition,
  MADE_NEW,
  readAssessmentText,
} from '../books';
import { requireNamesUnknown } from './name-hiding';
import { updateAssessment, updateOrder } from './sql/assessments';

const orderOf = (now: BookNow): string[] => now.assessments.filter((a) => !a.archived).map((a) => a.id);
const about = { version: 1, topic: 'assessments', live: 'document', managed: true } as const;

export const assessmentKinds: JournalKindDefinition[] = [
  {
    ...about,
    kind: 'assessment',
    format: Shape({
      id: Type.Optional(Id),
      title: Type.String({ 'x-words': 'book' }),
      category: Id,
      points: Amount,
      due: Maybe(Moment),
      closes: Maybe(Moment),
      takesWork: Type.Boolean(),
      work: Type.Optional(WorkSettings),
      shown: Type.Optional(Type.Boolean()),
      archived: Type.Optional(Type.Boolean()),
      more: Type.Object({}, { 'x-words': 'book' }),
    }),
    putBack: frameWay({
      text(l, now) {
        const found = now.assessments.find((a) => a.id === l.assessment);
        return found ? assessmentText(found) : null;
      },
      async restore(db, who, l, now) {
        const { school, book } = who;
        const at = now.assessments.findIndex((a) => a.id === l.assessment);
        const was = now.assessments[at]!;
        const is = { ...was, ...readAssessmentText(l.was!), version: was.version + 1 };
        await requireNamesUnknown(db, who, was, is);
        now.assessments[at] = is;
        await updateAssessment(db, school, book, is);
      },
    }),
    madeNew: MADE_NEW,
  },
  {
    ...about,
    kind: 'order',
    madeNew: CANNOT,
    format: Type.Array(Id),
    putBack: frameWay({
      text: (_, now) => canonical(orderOf(now)),
      restore(db, { school, book }, l, now) {
        const order = JSON.parse(l.was!) as string[];
        const there = new Set(orderOf(now));
        if (order.length !== there.size || order.some((id) => !there.has(id)))
          throw new Refusal('cannot-undo', 'Assessments were made or put away since, so the order was not put back.');
        return updateOrder(db, school, book, order);
      },
    }),
  },
];
