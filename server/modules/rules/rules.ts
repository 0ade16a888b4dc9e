import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import type { BookTransaction } from '../../kernel/book-transaction';
import {
  type Author,
  type Commit,
  commitBook,
  assessmentText,
  requireItemKeys,
  requireMarksFit,
  requireSoundRules,
  requireVariantsFit,
  assessmentsOf,
  type AssessmentRow,
  findBook,
  rulesAt,
  type BookRow,
  insertRules,
} from '../books';
import { type WantedCell } from '../../kernel/cells/cell';
import { requireReasonFor, changeCells } from '../scores';
import { Refusal } from '../../kernel/refusal';
import { governedOf, requireWithinPolicy } from '../policy';
import { type LineContent } from '../../kernel/journal/sql/lines';
import { updateAssessment } from '../assessments';
import type { RulesState, RulesWrite } from '@contract/rules';

/** Makes a new version of the rules, and with it the settings of assessments that were tried together with them. */
export function makeRules(pool: pg.Pool, who: Author, write: RulesWrite): Promise<RulesState> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { school, book } = who;
    const row = (await findBook(db, school, book))!;
    const was = await rulesAt(db, school, book, row.rulesVersion);
    if (row.rulesVersion !== write.version)
      throw new Refusal(
        'stale',
        'Somebody else changed the rules after you opened them. Nothing of theirs was overwritten; look at their rules first.',
        { now: { version: row.rulesVersion, rules: was } },
      );
    const all = await assessmentsOf(db, school, book, true);
    const changes = (write.items ?? []).map((wanted) => {
      const a = all.find((x) => x.id === wanted.assessment);
      if (!a) throw new Refusal('not-found', `There is no assessment “${wanted.assessment}” in this book.`);
      if (a.version !== wanted.version)
        throw new Refusal(
          'stale',
          `Somebody else changed ${a.title} after you opened it. Nothing of theirs was overwritten; look at theirs first.`,
          { now: { version: row.rulesVersion, rules: was } },
        );
      requireItemKeys(wanted.more);
      return { was: a, is: { ...a, more: wanted.more, version: a.version + 1 } };
    });
    const changed = new Map(changes.map((c) => [c.is.id, c.is]));
    const next = all.map((a) => changed.get(a.id) ?? a);
    requireSoundRules(
      row.timeZone,
      write.rules,
      next.filter((a) => !a.archived),
    );
    await requireMarksFit(db, who, write.rules, next);
    await requireVariantsFit(db, who, write.rules);

    await requireReasonFor(db, who, write.cells ?? [], write.reason);
    await requireWithinPolicy(db, school, governedOf(was, all), governedOf(write.rules, next), write.reason);
    const { rules, reason, cells } = write;
    return writeRules(db, who, { row, was, rules, changes, cells: cells ?? [], reason, title: 'Rules' });
  });
}

/** An assessment before and after. */
export interface ChangedAssessment {
  was: AssessmentRow;
  is: AssessmentRow;
}

/** What is made together: rules, settings of assessments, cells. It was checked. */
export interface RulesMaking {
  row: BookRow;
  was: RulesPart;
  rules: RulesPart;
  changes: ChangedAssessment[];
  cells?: WantedCell[];
  reason: string;
  /** What the set is called in the journal. */
  title: string;
}

/** Writes rules and what goes with them; gives their lines for the journal. */
export async function writeRules(db: BookTransaction, who: Author, made: RulesMaking): Promise<Commit<RulesState>> {
  const { school, book } = who;
  const { row, was, rules, changes, reason, cells = [] } = made;
  const newRules = canonical(was) !== canonical(rules);
  const version = newRules ? row.rulesVersion + 1 : row.rulesVersion;
  if (newRules) await insertRules(db, { ...who, version, rules, by: who.person, reason });
  for (const { is } of changes) await updateAssessment(db, school, book, is);
  const lines: LineContent[] = changes.map((c) => ({
    kind: 'assessment',
    assessment: c.is.id,
    enrolment: null,
    was: assessmentText(c.was),
    becomes: assessmentText(c.is),
  }));
  if (newRules)
    lines.unshift({ kind: 'rules', assessment: null, enrolment: null, was: canonical(was), becomes: canonical(rules) });
  if (cells.length > 0) lines.push(...(await changeCells(db, who, cells)).lines);
  return {
    lines,
    // One line alone is a set without a row of its own.
    ...(lines.length > 1 ? { set: { kind: 'change', title: made.title } } : {}),
    reason,
    answer: ({ last }) => ({ version, rules, seq: last }),
  };
}
