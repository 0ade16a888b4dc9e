import type pg from 'pg';
import type { RulesPart } from '@core/book/change';
import { groupsOf } from '@core/book/document';
import type { ItemSettings } from '@core/proposal/proposal';
import { checkSchoolRules } from '@core/policy/check';
import { deviationKey, deviationsOf, newDeviations, type Deviation, type Governed } from '@core/policy/deviations';
import { OPEN_SCHOOL, type SchoolRules } from '@core/policy/document';
import { listAreas } from '@core/policy/words';
import type {
  BookDeviations,
  SchoolDeviations,
  SchoolRulesMade,
  SchoolRulesState,
  SchoolRulesWrite,
  SchoolTrialWrite,
} from '@contract/policy';
import { assessmentsOf, type AssessmentRow, readAssessmentText, momentOf, findBook, rulesAt } from '../books';
import { newId, transaction, type Db } from '../../kernel/database';
import { putJob } from '../../kernel/jobs';
import { Refusal, toPointedErrors } from '../../kernel/refusal';
import { titleOf } from '../statements';
import { rolloutQueue } from './rollout-queue';
import {
  latestRules,
  rulesOfVersion,
  type ReachedBook,
  reachedBooks,
  holdSchool,
  versionOf,
  insertVersion,
  versionsOfBook,
  linesOfAssessment,
} from './sql/policy';
import { rolloutOfVersion, deleteTrials, insertRollout, findRollout } from './sql/rollout';

/** What a school says now; version 0 where the office has said nothing yet. */
export async function schoolRulesNow(db: Db, school: string): Promise<SchoolRulesState> {
  const last = await latestRules(db, school);
  if (!last) return { version: 0, rules: OPEN_SCHOOL, made: null };
  const { version, rules, at, by, reason } = last;
  return { version, rules, made: { at, by, reason } };
}

/** The rules of one version; those of a school that says nothing for version 0. */
export async function rulesAtVersion(db: Db, school: string, version: number): Promise<SchoolRules> {
  if (version === 0) return OPEN_SCHOOL;
  const found = await rulesOfVersion(db, school, version);
  if (!found) throw new Error(`school ${school} has no rules version ${version}`);
  return found.rules;
}

/** What of a book its school can say. */
export const governedOf = (rules: RulesPart, assessments: readonly AssessmentRow[]): Governed => ({
  rules,
  items: Object.fromEntries(assessments.map((a) => [a.id, a.more as ItemSettings])),
});

function requireSoundSchool(rules: unknown): void {
  const checked = checkSchoolRules(rules);
  if (!checked.ok)
    throw new Refusal(
      'bad-request',
      `These rules cannot be used, and nothing was changed: ${checked.problems[0]!.says}`,
      { errors: toPointedErrors(checked.problems) },
    );
}

function requireLatest(now: SchoolRulesState, version: number): void {
  if (now.version !== version)
    throw new Refusal(
      'stale',
      'Somebody else changed the school’s rules after you opened them. Nothing of theirs was overwritten; look at their rules first.',
      { now },
    );
}

/** Books that the rules reach now. */
async function reached(db: Db, school: string): Promise<ReachedBook[]> {
  return reachedBooks(db, school, (await momentOf(db, school)).slice(0, 10));
}

/** Makes a version of the school's rules and sends it through the books. */
export function makeSchoolRules(
  pool: pg.Pool,
  who: { school: string; person: string },
  write: SchoolRulesWrite,
): Promise<SchoolRulesMade> {
  return transaction(pool, async (db) => {
    const { school, person } = who;
    await holdSchool(db, school, 'change');
    const done = await versionOf(db, school, write.operation);
    if (done !== null) return { version: done, rollout: (await rolloutOfVersion(db, school, done))! };
    requireLatest(await schoolRulesNow(db, school), write.version);
    requireSoundSchool(write.rules);
    const version = write.version + 1;
    const { operation, rules, reason } = write;
    await insertVersion(db, { school, version, operation, rules, by: person, reason: reason.trim() });
    const id = newId('rollout');
    await deleteTrials(db, school, person, null);
    await insertRollout(
      db,
      { school, id, kind: 'make', person, version: write.version, makes: version, rules },
      await reached(db, school),
    );
    await putJob(db, rolloutQueue, { school });
    return { version, rollout: id };
  });
}

/** Begins to work out what rules would do to every book; the person's trial before it ends. */
export function trySchoolRules(
  pool: pg.Pool,
  who: { school: string; person: string },
  write: SchoolTrialWrite,
): Promise<void> {
  return transaction(pool, async (db) => {
    const { school, person } = who;
    const { id, version, rules } = write;
    const there = await findRollout(db, school, id);
    if (there?.kind === 'trial' && there.person === person) return;
    if (there) throw new Refusal('already-there', 'There is such a trial already. Nothing was begun.');
    requireLatest(await schoolRulesNow(db, school), version);
    requireSoundSchool(rules);
    await deleteTrials(db, school, person, null);
    await insertRollout(
      db,
      { school, id, kind: 'trial', person, version, makes: null, rules },
      await reached(db, school),
    );
    await putJob(db, rolloutQueue, { school });
  });
}

/**
 * Refuses a change by which a book would newly depart from what its school has fixed; and one by which it departs at
 * all where `reason` is empty (undefined: none is asked for here).
 */
export async function requireWithinPolicy(
  db: Db,
  school: string,
  was: Governed | null,
  is: Governed,
  reason: string | undefined,
): Promise<void> {
  const { rules } = await schoolRulesNow(db, school);
  const fresh = newDeviations(rules, was, is);
  const fixed = fresh.filter((d) => rules.stands[d.matter] === 'fixed');
  if (fixed.length > 0)
    throw new Refusal(
      'bad-request',
      `The school has fixed ${listAreas(fixed)}: a book may not depart from it. Nothing was changed.`,
    );
  if (fresh.length > 0 && reason !== undefined && reason.trim() === '')
    throw new Refusal(
      'bad-request',
      `This departs from the school’s rules for ${listAreas(fresh)}: say why. Nothing was changed.`,
      { errors: [{ pointer: '/reason', detail: 'a departure from the school’s rules needs a reason' }] },
    );
}

/** In what a book departs, with the change that brought each. */
export async function deviationsOfBook(
  db: Db,
  school: string,
  book: string,
  rules: SchoolRules,
): Promise<BookDeviations> {
  const row = (await findBook(db, school, book))!;
  const assessments = await assessmentsOf(db, school, book);
  const now = governedOf(await rulesAt(db, school, book, row.rulesVersion), assessments);
  const departures = deviationsOf(rules, now);
  if (departures.length === 0) return [];
  const since = await broughtBy(db, school, book, rules, now, departures);
  const titles = new Map([
    ...groupsOf(now.rules.tree).map((g): [string, string] => [g.id, titleOf(g)]),
    ...assessments.map((a): [string, string] => [a.id, a.title]),
  ]);
  return departures.map((departure) => {
    const { place } = departure;
    const title = 'id' in place ? (titles.get(place.id) ?? place.id) : 'name' in place ? place.name : '';
    return { departure, title, since: since.get(deviationKey(departure)) ?? null };
  });
}

type Since = NonNullable<BookDeviations[number]['since']>;

/** By the text of each departure, the change since which it has been there without a break. */
async function broughtBy(
  db: Db,
  school: string,
  book: string,
  rules: SchoolRules,
  now: Governed,
  departures: readonly Deviation[],
): Promise<Map<string, Since>> {
  const out = new Map<string, Since>();
  for (const d of departures) {
    const since = await settingsBrought(db, school, book, d);
    if (since) out.set(deviationKey(d), since);
  }
  // What an assessment's settings bring stands in no version of the rules.
  let open = new Set(departures.filter((d) => d.place.kind !== 'item').map(deviationKey));
  const versions = await versionsOfBook(db, school, book);
  for (const [i, v] of versions.entries()) {
    const before = versions[i + 1];
    const had = before
      ? new Set(
          deviationsOf(rules, { rules: JSON.parse(before.rules) as RulesPart, items: now.items }).map(deviationKey),
        )
      : new Set<string>();
    for (const key of open) if (!had.has(key)) out.set(key, { at: v.at, by: v.by, reason: v.reason });
    open = new Set([...open].filter((key) => had.has(key)));
    if (open.size === 0) break;
  }
  return out;
}

/** The line of the journal since which an assessment has gone by the rule by which it departs; null for another place. */
async function settingsBrought(db: Db, school: string, book: string, d: Deviation): Promise<Since | null> {
  if (d.place.kind !== 'item') return null;
  let since: Since | null = null;
  for (const { becomes, ...line } of await linesOfAssessment(db, school, book, d.place.id)) {
    const more = becomes === null ? {} : readAssessmentText(becomes).more;
    if (more[d.matter as 'late' | 'blank'] !== d.is) break;
    since = line;
  }
  return since;
}

/** The books that depart from the school's rules. */
export async function schoolDeviations(db: Db, school: string): Promise<SchoolDeviations> {
  const { rules } = await schoolRulesNow(db, school);
  const out: SchoolDeviations = [];
  for (const { id, title, term } of await reached(db, school)) {
    const departures = await deviationsOfBook(db, school, id, rules);
    if (departures.length > 0) out.push({ book: id, title, term, departures });
  }
  return out;
}
