import { counted } from '@core/words/count';
import { canonical } from '@core/book/canonical';
import { shareOfPoints, type CellChange, type EntryContent, type RulesPart } from '@core/book/change';
import type { Item } from '@core/book/document';
import { mentionsOf } from '@core/book/mentions';
import type {
  AssessmentMade,
  AssessmentWhole,
  AssessmentWrite,
  OrderWrite,
  NewAssessment,
} from '@contract/assessments';
import type pg from 'pg';
import type { BookTransaction } from '../../kernel/book-transaction';
import { type Db } from '../../kernel/database';
import { readCells, writeCells } from '../../kernel/cells/sql';
import { deleteInstructions } from '../instructions';
import { deleteRubric } from '../marking';
import { tellStudents } from '../notices';
import {
  type Author,
  commitBook,
  assessmentText,
  requireItemKeys,
  requireMarksFit,
  requireSoundRules,
  assessmentsOf,
  type AssessmentRow,
  findBook,
  rulesAt,
} from '../books';
import { cellLine, nextCell } from '../../kernel/cells/cell';
import { Refusal } from '../../kernel/refusal';
import { governedOf, requireWithinPolicy } from '../policy';
import { type LineContent, type Who } from '../../kernel/journal/sql/lines';
import { keepRules, withMarks } from './mark-sets';
import { requireNamesFit, requireNamesUnknown, withNamesHidden } from './name-hiding';
import { usesOf, insertAssessment, updateAssessment, deleteUnused, updateOrder } from './sql/assessments';

export async function wholeAssessments(db: Db, school: string, book: string): Promise<AssessmentWhole[]> {
  const uses = await usesOf(db, school, book);
  return (await assessmentsOf(db, school, book, true)).map((a) => ({ ...a, ...uses.get(a.id)! }));
}

/** Makes an assessment, once however often the operation is tried. `beside`: what is written with it, in the same transaction. */
export function makeAssessment(
  pool: pg.Pool,
  who: Author,
  body: NewAssessment,
  beside: (db: BookTransaction) => Promise<void> = () => Promise.resolve(),
): Promise<{ done: true }> {
  return commitBook(pool, who, body.operation, async (db) => {
    const { school, book } = who;
    const row = (await findBook(db, school, book))!;
    const was = await rulesAt(db, school, book, row.rulesVersion);
    const { operation: _o, ...fields } = body;
    requireItemKeys(body.more);
    const more = body.more as Partial<Item>;
    const rules = withMarks(was, more.marks);
    const work = withNamesHidden(body, row);
    const fresh = { ...fields, work, shown: true, more, version: 1, archived: false };
    requireNamesFit(fresh);
    const known = await assessmentsOf(db, school, book, true);
    if (known.some((a) => a.id === body.id))
      throw new Refusal('already-there', `There is an assessment “${body.id}” already.`);
    requireSoundRules(row.timeZone, rules, [...known.filter((a) => !a.archived), fresh]);
    await requireWithinPolicy(db, school, governedOf(was, known), governedOf(rules, [...known, fresh]), undefined);
    await insertAssessment(db, school, book, fresh);
    await beside(db);
    const lines: LineContent[] = [
      { kind: 'assessment', assessment: body.id, enrolment: null, was: null, becomes: assessmentText(fresh) },
      ...(await keepRules(db, who, row, was, rules)),
    ];
    return { lines, answer: () => ({ done: true }) };
  });
}

/** The cells of an assessment that hold a score. */
async function scoredCells(db: Db, who: Who, assessment: string) {
  return (await readCells(db, who.school, who.book)).filter(
    (c) =>
      c.assessment === assessment &&
      (c.content.set !== undefined || c.content.attempts?.some((a) => a.score !== undefined || a.mark !== undefined)),
  );
}

/** The same percentages of other points: half-up to four decimals (states.md). */
export function rescaled(content: EntryContent, from: number, to: number): CellChange {
  const scale = (points: number): number => shareOfPoints(points, from, to);
  const entry: EntryContent = { ...content };
  if (entry.set !== undefined) entry.set = scale(entry.set);
  if (entry.attempts)
    entry.attempts = entry.attempts.map((a) => (a.score === undefined ? a : { ...a, score: scale(a.score) }));
  return { kind: 'put', entry };
}

/** Changes an assessment; its scores with it, where its points change and their percentages are to stay. */
export function changeAssessment(
  pool: pg.Pool,
  who: Author,
  id: string,
  write: AssessmentWrite,
): Promise<AssessmentMade> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { school, book } = who;
    const row = (await findBook(db, school, book))!;
    const all = await assessmentsOf(db, school, book, true);
    const was = all.find((a) => a.id === id);
    if (!was) throw new Refusal('not-found', 'There is no such assessment in this book.');
    const whole = async (a: AssessmentRow): Promise<AssessmentWhole> => ({
      ...a,
      ...(await usesOf(db, school, book)).get(id)!,
    });
    if (was.version !== write.version)
      throw new Refusal(
        'stale',
        `Somebody else changed ${was.title} after you opened it. Nothing of theirs was overwritten; look at theirs first.`,
        { now: await whole(was) },
      );
    const { operation: _o, version: _v, scores, reason, tell, more, ...fields } = write;
    if (more) requireItemKeys(more);
    const is: AssessmentRow = { ...was, ...fields, ...(more ? { more } : {}), version: was.version + 1 };
    if (is.archived && !was.archived && (await whole(was)).released > 0)
      throw new Refusal(
        'bad-request',
        `Students see ${was.title}. Withdraw it on the Release page first; then it can be put away.`,
      );
    await requireNamesUnknown(db, who, was, is);
    const oldRules = await rulesAt(db, school, book, row.rulesVersion);
    if (is.archived && !was.archived) requireUnmentioned(oldRules, was, 'Nothing was changed.');
    const rules = withMarks(oldRules, is.more.marks);
    await requireMarksFit(db, who, rules, [is]);
    const next = all.map((a) => (a.id === id ? is : a));
    requireSoundRules(
      row.timeZone,
      rules,
      next.filter((a) => !a.archived),
    );
    await requireWithinPolicy(db, school, governedOf(oldRules, all), governedOf(rules, next), reason);

    const scored = await scoredCells(db, who, id);
    if (is.points !== was.points && scored.length > 0 && !scores)
      throw new Refusal(
        'bad-request',
        `${counted(scored.length, 'student has', 'students have')} a score on ${was.title}. Say whether their points or their percentages stay. Nothing was changed.`,
        { errors: [{ pointer: '/scores', detail: 'say whether points or percentages stay' }] },
      );
    const rescale = is.points !== was.points && scores === 'keep-percentages' && was.points > 0;
    const before = rescale ? scored : [];
    const after = before.map((c) => nextCell(c, rescaled(c.content, was.points, is.points)));

    await updateAssessment(db, school, book, is);
    const lines: LineContent[] = [
      {
        kind: 'assessment',
        assessment: id,
        enrolment: null,
        was: assessmentText(was),
        becomes: assessmentText(is),
      },
      ...(await keepRules(db, who, row, oldRules, rules)),
      ...before.map((c, i) => cellLine(c, after[i]!)),
    ];
    if (after.length > 0) await writeCells(db, school, book, after);
    const told = tell === null ? [] : scored.map((c) => c.enrolment);
    if (told.length > 0) await tellStudents(db, school, book, told, { text: tell!, assessment: id });
    return {
      lines,
      set: { kind: 'change', title: was.title },
      reason,
      answer: async ({ last }) => ({
        assessment: await whole(is),
        cells: after.length,
        told: told.length,
        seq: last,
      }),
    };
  });
}

/** Refuses to take an assessment away that the rules name: with the place to mend it. */
function requireUnmentioned(rules: RulesPart, { id, title }: AssessmentRow, so: string): void {
  const mention = mentionsOf(rules, id)[0];
  if (mention === undefined) return;
  const says = {
    hurdle: `There is a hurdle over ${title}. Take the hurdle out on Rules first.`,
    'counted-again': `${title} counts again in another place. Take that out on Rules, under “Counted again”, first.`,
    variant: `A variant of the rules names ${title}. Change it on Rules, under “Variants”, first.`,
  }[mention.kind];
  throw new Refusal('bad-request', `${says} ${so}`);
}

/** Takes an assessment off the book, where nobody ever had anything on it. */
export function removeAssessment(
  pool: pg.Pool,
  who: Author,
  id: string,
  write: { operation: string; version: number },
): Promise<{ done: true }> {
  return commitBook(pool, who, write.operation, async (db) => {
    const all = await assessmentsOf(db, who.school, who.book, true);
    const was = all.find((a) => a.id === id);
    if (!was) throw new Refusal('not-found', 'There is no such assessment in this book.');
    const row = (await findBook(db, who.school, who.book))!;
    const rules = await rulesAt(db, who.school, who.book, row.rulesVersion);
    requireUnmentioned(rules, was, 'Nothing was deleted.');
    if (was.version !== write.version)
      throw new Refusal('stale', `Somebody else changed ${was.title} after you opened it. Nothing was deleted.`);
    const place = { school: who.school, book: who.book, assessment: id };
    await deleteInstructions(db, place);
    if (!(await deleteRubric(db, place)) || !(await deleteUnused(db, who.school, who.book, id)))
      throw new Refusal(
        'bad-request',
        `${was.title} has, or had, something of a student’s. Put it away instead: it leaves the ledger, and nothing is lost.`,
      );
    return {
      lines: [{ kind: 'assessment', assessment: id, enrolment: null, was: assessmentText(was), becomes: null }],
      answer: () => ({ done: true }),
    };
  });
}

/** Puts the book's assessments in another order, some of them in another category. */
export function orderAssessments(pool: pg.Pool, who: Author, write: OrderWrite): Promise<{ done: true }> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { school, book } = who;
    const row = (await findBook(db, school, book))!;
    const all = await assessmentsOf(db, school, book);
    const order = all.map((a) => a.id);
    if (canonical([...write.order].sort()) !== canonical([...order].sort()))
      throw new Refusal('stale', 'Assessments were made or put away meanwhile. Nothing was moved; look again.');
    const byId = new Map(all.map((a) => [a.id, a]));
    const moved = write.moves.map((m) => {
      const was = byId.get(m.assessment);
      if (!was || was.version !== m.version)
        throw new Refusal('stale', 'Somebody else changed one of these assessments. Nothing was moved; look again.');
      return { was, is: { ...was, category: m.category, version: was.version + 1 } };
    });
    for (const { is } of moved) byId.set(is.id, is);
    requireSoundRules(
      row.timeZone,
      await rulesAt(db, school, book, row.rulesVersion),
      write.order.map((id) => byId.get(id)!),
    );
    for (const { is } of moved) await updateAssessment(db, school, book, is);
    await updateOrder(db, school, book, write.order);
    const lines: LineContent[] = [
      {
        kind: 'order',
        assessment: null,
        enrolment: null,
        was: canonical(order),
        becomes: canonical(write.order),
      },
      ...moved.map(({ was, is }) => ({
        kind: 'assessment' as const,
        assessment: was.id,
        enrolment: null,
        was: assessmentText(was),
        becomes: assessmentText(is),
      })),
    ];
    return { lines, answer: () => ({ done: true }) };
  });
}
