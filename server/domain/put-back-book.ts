import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import type { Governed } from '@core/school/departures';
import * as kept from '../store/assessments';
import type { BatchLine } from '../store/batches';
import * as books from '../store/books';
import type { Db } from '../store/database';
import { studentsOf, writeEnrolments, type StudentRow } from '../store/enrolments';
import type * as journal from '../store/journal';
import { overridesOf, writeOverride, type OverrideRow } from '../store/overrides';
import { assessmentText, readAssessmentText } from './assessment-text';
import { requireMarksFit, requireSoundRules } from './books';
import { enrolText, overrideText } from './exceptions';
import { settingsText } from './own-books';
import { Refusal } from './problems';
import { governedOf, requireWithinSchool } from './school-rules';

/** Kinds of lines that only the teachers of a book put back. */
export const MANAGED: readonly journal.JournalKind[] = [
  'rules',
  'settings',
  'assessment',
  'order',
  'override',
  'enrol',
];

/** What of a book, its cells and notes apart, the journal's lines are about, as it is now. */
export interface BookNow {
  row: books.BookRow;
  rules: RulesPart;
  assessments: kept.AssessmentRow[];
  students: Map<string, StudentRow>;
  overrides: Map<string, OverrideRow>;
}

export async function bookNow(db: Db, who: journal.Who): Promise<BookNow> {
  const { school, book } = who;
  const row = (await books.findBook(db, school, book))!;
  return {
    row,
    rules: await books.rulesAt(db, school, book, row.rulesVersion),
    assessments: await kept.assessmentsOf(db, school, book, true),
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
export async function restore(db: Db, who: journal.Who, l: BatchLine, now: BookNow, reason: string): Promise<void> {
  const { school, book } = who;
  const was = l.was!;
  switch (l.kind) {
    case 'settings':
      return books.setBook(db, school, book, JSON.parse(was) as Parameters<typeof books.setBook>[3]);
    case 'rules': {
      const rules = JSON.parse(was) as RulesPart;
      now.rules = rules;
      now.row = { ...now.row, rulesVersion: now.row.rulesVersion + 1 };
      const version = now.row.rulesVersion;
      return books.insertRules(db, { school, book, version, rules, by: who.person, reason: reason || 'put back' });
    }
    case 'order': {
      const order = JSON.parse(was) as string[];
      const there = new Set(orderOf(now));
      if (order.length !== there.size || order.some((id) => !there.has(id)))
        throw new Refusal('cannot-undo', 'Assessments were made or put away since, so the order was not put back.');
      return kept.orderAssessments(db, school, book, order);
    }
    case 'assessment': {
      const at = now.assessments.findIndex((a) => a.id === l.assessment);
      const is = { ...now.assessments[at]!, ...readAssessmentText(was), version: now.assessments[at]!.version + 1 };
      now.assessments[at] = is;
      return kept.updateAssessment(db, school, book, is);
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
  who: journal.Who,
  was: Governed,
  now: BookNow,
  reason: string | undefined,
): Promise<void> {
  await requireWithinSchool(db, who.school, was, governedOf(now.rules, now.assessments), reason);
  await requireMarksFit(db, who, now.rules, now.assessments);
  requireSoundRules(
    now.row.timeZone,
    now.rules,
    now.assessments.filter((a) => !a.archived),
  );
}
