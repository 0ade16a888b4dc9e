import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import { compileBook } from '@core/calculation/compiled/compile';
import { deviationsOf } from '@core/policy/deviations';
import type { SchoolRules } from '@core/policy/document';
import { applyPolicy } from '@core/policy/apply-policy';
import type { Trial } from '@core/proposal/compare';
import { workOutProposal } from '@core/proposal/work-out';
import { settingsFor } from '@core/proposal/proposal';
import type { PolicyRollout, RolloutBook, RolloutMovers } from '@contract/policy';
import type { RulesPart } from '@core/book/change';
import {
  type Commit,
  commitBook,
  systemAuthor,
  assessmentsOf,
  type AssessmentRow,
  studentsOf,
  assembleDocument,
  requireMarksFit,
  requireSoundRules,
  type BookRow,
  findBook,
  rulesAt,
} from '../books';
import { snapshot, transaction, type Db } from '../../kernel/database';
import { personName } from '../accounts';
import { releasedTogether } from '../statements';
import {
  rulesOfVersion,
  governedOf,
  rulesAtVersion,
  type RolloutRow,
  claimNextBook,
  writeRolloutResult,
  booksOfRollout,
  findRollout,
  moversOf,
  deleteTrials,
} from '../policy';
import { Refusal } from '../../kernel/refusal';
import { writeRules, type ChangedAssessment } from '../rules';
/** Movers of one book that are kept one by one. */
const MOST_MOVERS = 2_000;

interface KeptMover {
  enrolment: string;
  before: { percent: string | null; letter: string | null };
  after: { percent: string | null; letter: string | null };
  moves: string | null;
}
/** What came of one book, as it is kept. */
type Answer = Omit<RolloutBook, 'book' | 'title' | 'term'> & { movers: KeptMover[] };
type Taken = RolloutRow & { book: string };

const NOTHING: Answer = {
  state: 'stays',
  says: '',
  students: 0,
  up: 0,
  down: 0,
  crossing: 0,
  readers: 0,
  departs: [],
  movers: [],
};

/** Works out, or makes, the next book that waits; false where none does. */
export function rollOutNextBook(pool: pg.Pool, failed: (error: unknown) => void): Promise<boolean> {
  return transaction(pool, async (db) => {
    const taken = await claimNextBook(db);
    if (!taken) return false;
    const was = await rulesAtVersion(db, taken.school, taken.version);
    const work = taken.kind === 'trial' ? tried(pool, taken, was) : made(pool, taken, was);
    // One book that cannot be worked out holds up no other. Where it is the database that fails, so does the answer.
    const answer = await work.catch((error: unknown): Answer => {
      failed(error);
      return {
        ...NOTHING,
        state: 'refused',
        says: 'This book could not be worked out. The fault is in the server’s log.',
      };
    });
    const { movers, ...rest } = answer;
    await writeRolloutResult(db, taken, JSON.stringify(rest), movers.length > 0 ? JSON.stringify(movers) : null);
    return true;
  });
}

/** What a book's rules and assessments would be; null: as they are. */
interface Plan {
  row: BookRow;
  rules: RulesPart;
  next: RulesPart;
  changes: ChangedAssessment[];
  departs: RolloutBook['departs'];
}

/** Throws a refusal where the book cannot take the rules on. */
async function planFor(db: Db, { school, book, rules: is }: Taken, was: SchoolRules): Promise<Plan | null> {
  const row = await findBook(db, school, book);
  // Put away since the rollout began.
  if (!row || row.archived) return null;
  const rules = await rulesAt(db, school, book, row.rulesVersion);
  const all = await assessmentsOf(db, school, book, true);
  const wish = applyPolicy(was, is, governedOf(rules, all));
  const next = all.map((a): AssessmentRow => {
    const more = settingsFor(wish.items, a.id);
    return more ? { ...a, more, version: a.version + 1 } : a;
  });
  requireSoundRules(
    row.timeZone,
    wish.rules,
    next.filter((a) => !a.archived),
  );
  const marks = (r: RulesPart): string => canonical(r.rules?.marks ?? {});
  if (marks(rules) !== marks(wish.rules)) await requireMarksFit(db, { school, book }, wish.rules, next);
  const departures = deviationsOf(
    is,
    governedOf(
      wish.rules,
      next.filter((a) => !a.archived),
    ),
  );
  return {
    row,
    rules,
    next: wish.rules,
    changes: all.flatMap((a, i) => (next[i] === a ? [] : [{ was: a, is: next[i]! }])),
    departs: [...new Set(departures.map((d) => d.matter))],
  };
}

const changesNothing = (p: Plan): boolean => p.changes.length === 0 && canonical(p.rules) === canonical(p.next);

/** A refusal, as an answer; anything else goes on. */
function refused(error: unknown): Answer {
  if (!(error instanceof Refusal)) throw error;
  return { ...NOTHING, state: 'refused', says: error.detail.replace(/ ?Nothing was changed\.$/, '') };
}

function tried(pool: pg.Pool, taken: Taken, was: SchoolRules): Promise<Answer> {
  return snapshot(pool, async (db): Promise<Answer> => {
    const plan = await planFor(db, taken, was);
    if (!plan) return NOTHING;
    const { school, book } = taken;
    const students = async (): Promise<number> => (await studentsOf(db, school, book)).length;
    if (changesNothing(plan)) return { ...NOTHING, departs: plan.departs, students: await students() };
    const document = await assembleDocument(db, school, book);
    // What is kept was checked when it was kept.
    const { trial, problems } = workOutProposal(compileBook(document), () => document, {
      rules: plan.next,
      items: Object.fromEntries(plan.changes.map((c) => [c.is.id, c.is.more])),
    });
    if (problems.length > 0) return { ...NOTHING, state: 'refused', says: problems[0]!.says };
    const reading = plan.row.showsStanding ? new Set(await releasedTogether(db, school, book)) : new Set<string>();
    return {
      state: 'takes',
      says: '',
      students: trial.students,
      up: trial.up,
      down: trial.down,
      crossing: trial.crossing,
      readers: trial.movers.filter((m) => reading.has(m.student)).length,
      departs: plan.departs,
      movers: largestFirst(trial),
    };
  }).catch(refused);
}

function largestFirst(trial: Trial): KeptMover[] {
  const size = new Map(trial.line.map((l) => [l.student, Math.abs(l.after - l.before)]));
  const of = (student: string): number => {
    const n = size.get(student)!;
    // Newly with or without a grade comes before every move.
    return Number.isNaN(n) ? Infinity : n;
  };
  return [...trial.movers]
    .sort((a, b) => of(b.student) - of(a.student) || 0)
    .slice(0, MOST_MOVERS)
    .map(({ student, before, after, moves }) => ({ enrolment: student, before, after, moves }));
}

/** The rules made in one book, by a commit of its own: what was made there before is answered, and not made twice. */
async function made(pool: pg.Pool, taken: Taken, was: SchoolRules): Promise<Answer> {
  const operation = `school-rules-${taken.makes}`;
  const who = systemAuthor(taken.school, taken.book, taken.person, operation);
  // Put away since the rollout began.
  if ((await findBook(pool, taken.school, taken.book))?.archived !== false) return NOTHING;
  const reason = await rulesReason(pool, taken);
  try {
    return await commitBook(pool, who, operation + `-${taken.book}`, async (db): Promise<Commit<Answer>> => {
      const plan = await planFor(db, taken, was);
      const nothing = { ...NOTHING, departs: plan?.departs ?? [] };
      if (!plan || changesNothing(plan)) return { lines: [], answer: () => nothing };
      const { row, rules, next, changes } = plan;
      const commit = await writeRules(db, who, {
        row,
        was: rules,
        rules: next,
        changes,
        reason,
        title: 'School rules',
      });
      return { ...commit, answer: () => ({ ...nothing, state: 'takes' as const }) };
    });
  } catch (error) {
    return refused(error);
  }
}

/** Why the version was made, as the journals of the books say it. */
async function rulesReason(db: Db, { school, makes }: Taken): Promise<string> {
  return `School rules: ${(await rulesOfVersion(db, school, makes!))!.reason}`.slice(0, 500);
}

/** How far a rollout is: trials are their person's alone, what is made is the whole office's. */
export async function rolloutStatus(
  db: Db,
  who: { school: string; person: string },
  id: string,
): Promise<PolicyRollout> {
  const rollout = await requireRollout(db, who, id);
  const rows = await booksOfRollout(db, who.school, id);
  return {
    id,
    kind: rollout.kind,
    version: rollout.version,
    books: rows.map(({ id: book, title, term, answer }) => ({
      book,
      title,
      term,
      ...(answer === null ? WAITS : (JSON.parse(answer) as Omit<Answer, 'movers'>)),
    })),
  };
}

const { movers: _, ...WAITS } = { ...NOTHING, state: 'waits' as const };

async function requireRollout(db: Db, who: { school: string; person: string }, id: string): Promise<RolloutRow> {
  const rollout = await findRollout(db, who.school, id);
  if (!rollout || (rollout.kind === 'trial' && rollout.person !== who.person))
    throw new Refusal('not-found', 'There is no such trial any more. Begin it again; nothing was changed.');
  return rollout;
}

/** Who would move in one book. */
export async function rolloutMovers(
  db: Db,
  who: { school: string; person: string },
  id: string,
  book: string,
): Promise<RolloutMovers> {
  await requireRollout(db, who, id);
  const movers = JSON.parse((await moversOf(db, who.school, id, book)) ?? '[]') as KeptMover[];
  const names = new Map(
    (await studentsOf(db, who.school, book, true)).map((s) => [s.id, personName({ ...s, role: 'student' })]),
  );
  return movers.map((m) => ({ name: names.get(m.enrolment) ?? m.enrolment, ...m }));
}

/** Ends a trial of the person; what is being made goes its way to the end. */
export async function cancelRollout(db: Db, who: { school: string; person: string }, id: string): Promise<void> {
  const rollout = await findRollout(db, who.school, id);
  if (rollout?.kind === 'make')
    throw new Refusal('bad-request', 'These rules are made already. Put the version before back to undo them.');
  await deleteTrials(db, who.school, who.person, id);
}
