import { BUILT_IN_MARKS } from '@core/book/built-in-marks';
import type { RulesPart } from '@core/book/change';
import type { Item } from '@core/book/document';
import { forgetShownNames } from '@core/work/hidden-names';
import type { Copied, CopyWrite } from '@contract/assessments';
import type { WorkSettings } from '@contract/work/submissions';
import type pg from 'pg';
import { copyInstructions } from '../instructions';
import { copyRubric } from '../marking';
import { makeAssessment } from './assessments';
import { Refusal } from '../../kernel/refusal';
import { assessmentsOf, roleInBook, findBook, rulesAt, type Author } from '../books';

/** Rules by name that the other book does not have are left out, and said. */
function fitting(more: Partial<Item>, rules: RulesPart): { more: Partial<Item>; left: string[] } {
  const out = { ...more };
  const left: string[] = [];
  if (out.late && !rules.rules?.late?.[out.late]) {
    left.push('its lateness rule');
    delete out.late;
  }
  if (out.blank && !rules.rules?.blank?.[out.blank]) {
    left.push('its rule for blanks');
    delete out.blank;
  }
  if (out.marks && !rules.rules?.marks?.[out.marks] && !BUILT_IN_MARKS[out.marks]) {
    left.push('its named marks');
    delete out.marks;
  }
  if (out.sectionDates) {
    left.push('its dates by section');
    delete out.sectionDates;
  }
  return { more: out, left };
}

/** Where dates stay behind, the day from which it is open stays too; names that were shown are hidden anew. */
function withoutOpens(work: WorkSettings, dates: boolean): WorkSettings {
  const { opens, ...rest } = forgetShownNames(work);
  return dates && opens !== undefined ? { ...rest, opens } : rest;
}

/** Copies an assessment into another book of the same person, with its words and files. */
export async function copyAssessment(pool: pg.Pool, who: Author, id: string, write: CopyWrite): Promise<Copied> {
  const role = await roleInBook(pool, who.school, write.book, who.person);
  const target = await findBook(pool, who.school, write.book);
  if (!target || (role !== 'teacher' && role !== 'co-teacher') || target.archived)
    throw new Refusal('not-found', 'You have no such book in which you make assessments.');
  const from = (await assessmentsOf(pool, who.school, who.book, true)).find((a) => a.id === id);
  if (!from) throw new Refusal('not-found', 'There is no such assessment in this book.');
  const { more, left } = fitting(from.more, await rulesAt(pool, who.school, target.id, target.rulesVersion));
  // The same operation gives the same id: tried again, it is there already and nothing is made.
  const made = `${id.slice(0, 40)}-${write.operation.replace(/-/g, '').slice(-8)}`;
  await makeAssessment(
    pool,
    { ...who, book: target.id, permission: 'book-make' },
    {
      operation: write.operation,
      id: made,
      title: from.title,
      category: write.category,
      points: from.points,
      due: write.dates ? from.due : null,
      closes: write.dates ? from.closes : null,
      takesWork: from.takesWork,
      work: withoutOpens(from.work, write.dates),
      more: more as Record<string, unknown>,
    },
    async (db) => {
      const source = { school: who.school, book: who.book, assessment: id };
      const copy = { school: who.school, book: target.id, assessment: made };
      await copyInstructions(db, source, copy, who.person);
      await copyRubric(db, source, copy, who.person);
    },
  );
  return { id: made, left };
}
