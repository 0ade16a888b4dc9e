import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import type { Governed } from '@core/policy/deviations';
import type { BatchLine } from '../../kernel/journal/sql/batches';
import type { Db } from '../../kernel/database';
import {
  studentsOf,
  writeEnrolments,
  type StudentRow,
  overridesOf,
  writeOverride,
  type OverrideRow,
  assessmentText,
  readAssessmentText,
  requireMarksFit,
  requireSoundRules,
  type AssessmentRow,
  assessmentsOf,
  type BookRow,
  findBook,
  rulesAt,
  updateBook,
  insertRules,
} from '../books';
import { enrolText, overrideText } from '../scores';
import { settingsText } from '../book-lifecycle';
import { Refusal } from '../../kernel/refusal';
import { governedOf, requireWithinPolicy } from '../policy';
import { type JournalKind, type Who } from '../../kernel/journal/sql/lines';
import { updateOrder, updateAssessment } from '../assessments';

/** Kinds of lines that only the teachers of a book put back. */
export const MANAGED: readonly JournalKind[] = ['rules', 'settings', 'assessment', 'order', 'override', 'enrol'];

/** What of a book, its cells and notes apart, the journal's lines are about, as it is now. */
export interface BookNow {
  row: BookRow;
  rules: RulesPart;
  assessments: AssessmentRow[];
  students: Map<string, StudentRow>;
  overrides: Map<string, OverrideRow>;
}

export async function bookNow(db: Db, who: Who): Promise<BookNow> {
  const { school, book } = who;
  const row = (await findBook(db, school, book))!;
  return {
    row,
    rules: await rulesAt(db, school, book, row.rulesVersion),
    assessments: await assessmentsOf(db, school, book, true),
    students: new Map((await studentsOf(db, school, book, true)).map((s) => [s.id, s])),
    overrides: new Map((await overridesOf(db, school, book)).map((o) => [o.enrolment, o])),
  };
}

const keysOf = (text: string | null): string[] => Object.keys(JSON.parse(text ?? '{}') as object);
const orderOf = (now: BookNow): string[] => now.assessments.filter((a) => !a.archived).map((a) => a.id);

/** What the place of a line holds now, as the journal would write it. */
export function textNow(l: BatchLine, now: BookNow): string | null {
  switch (l.kind) {
    case 'rules':
      return canonical(now.rules);
    case 'settings':
      return settingsText(now.row, keysOf(l.becomes));
    case 'order':
      return canonical(orderOf(now));
    case 'assessment': {
      const found = now.assessments.find((a) => a.id === l.assessment);
      return found ? assessmentText(found) : null;
    }
    case 'override':
      return overrideText(now.overrides.get(l.enrolment!) ?? { percent: null, letter: null });
    default: {
      const student = now.students.get(l.enrolment!);
      return student ? enrolText(student) : null;
    }
  }
}

/** Makes the place of one line what it was before it. `now` is kept as it becomes, for the next line of the set. */
export async function restore(db: Db, who: Who, l: BatchLine, now: BookNow, reason: string): Promise<void> {
  const { school, book } = who;
  const was = l.was!;
  switch (l.kind) {
    case 'settings':
      return updateBook(db, school, book, JSON.parse(was) as Parameters<typeof updateBook>[3]);
    case 'rules': {
      const rules = JSON.parse(was) as RulesPart;
      now.rules = rules;
      now.row = { ...now.row, rulesVersion: now.row.rulesVersion + 1 };
      const version = now.row.rulesVersion;
      return insertRules(db, { school, book, version, rules, by: who.person, reason: reason || 'put back' });
    }
    case 'order': {
      const order = JSON.parse(was) as string[];
      const there = new Set(orderOf(now));
      if (order.length !== there.size || order.some((id) => !there.has(id)))
        throw new Refusal('cannot-undo', 'Assessments were made or put away since, so the order was not put back.');
      return updateOrder(db, school, book, order);
    }
    case 'assessment': {
      const at = now.assessments.findIndex((a) => a.id === l.assessment);
      const is = { ...now.assessments[at]!, ...readAssessmentText(was), version: now.assessments[at]!.version + 1 };
      now.assessments[at] = is;
      return updateAssessment(db, school, book, is);
    }
    case 'override': {
      const { percent = null, letter = null } = JSON.parse(was) as { percent?: number; letter?: string };
      const version = (now.overrides.get(l.enrolment!)?.version ?? 0) + 1;
      return writeOverride(db, school, book, { enrolment: l.enrolment!, version, percent, letter });
    }
    default: {
      const is = JSON.parse(was) as { section: string | null; extraTimeHours: number; left: boolean };
      return writeEnrolments(db, school, book, [{ id: l.enrolment!, ...is }]);
    }
  }
}

/** Refuses a book that what was put back would make unsound, or bring out of what its school has fixed. */
export async function requireSoundBook(
  db: Db,
  who: Who,
  was: Governed,
  now: BookNow,
  reason: string | undefined,
): Promise<void> {
  await requireWithinPolicy(db, who.school, was, governedOf(now.rules, now.assessments), reason);
  await requireMarksFit(db, who, now.rules, now.assessments);
  requireSoundRules(
    now.row.timeZone,
    now.rules,
    now.assessments.filter((a) => !a.archived),
  );
}
