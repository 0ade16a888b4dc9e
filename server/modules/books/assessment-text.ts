import { canonical } from '@core/book/canonical';
import type { AssessmentRow } from './sql/assessments';
import { Refusal } from '../../kernel/refusal';

/** What an assessment may have beside what the route names. Nothing here can make it another item. */
const ITEM_KEYS = [
  'weight',
  'extraCredit',
  'counts',
  'alwaysKept',
  'sectionDates',
  'late',
  'blank',
  'marks',
  'attempts',
  'curve',
  'info',
];

export function requireItemKeys(more: Record<string, unknown>): void {
  const wrong = Object.keys(more).find((key) => !ITEM_KEYS.includes(key));
  if (wrong !== undefined)
    throw new Refusal('bad-request', `“${wrong}” is not known here. Nothing was changed.`, {
      errors: [{ pointer: `/more/${wrong}`, detail: 'not known here' }],
    });
}

/** An assessment as the journal writes it. Its place in the order has lines of its own. */
export const assessmentText = (a: Omit<AssessmentRow, 'version'>): string =>
  canonical({
    id: a.id,
    title: a.title,
    category: a.category,
    points: a.points,
    due: a.due,
    closes: a.closes,
    takesWork: a.takesWork,
    more: a.more,
    // Lines of assessments that say nothing of it stay as they were.
    ...(Object.keys(a.work).length > 0 ? { work: a.work } : {}),
    ...(a.shown ? {} : { shown: false }),
    ...(a.archived ? { archived: true } : {}),
  });

/** The assessment that a journal's text says. */
export function readAssessmentText(text: string): Omit<AssessmentRow, 'version'> {
  const a = JSON.parse(text) as Omit<AssessmentRow, 'version'>;
  return { ...a, work: a.work ?? {}, shown: a.shown ?? true, archived: a.archived ?? false };
}
