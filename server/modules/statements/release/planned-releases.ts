import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import type { PlannedReleases, PlannedReleaseWrite } from '@contract/planned-releases';
import { RELEASE_PARTS } from '@contract/slips';
import { newId, type Db } from '../../../kernel/database';
import type { JobData, JobKind } from '../../../kernel/jobs';
import type { LineContent } from '../../../kernel/journal/sql/lines';
import { Refusal } from '../../../kernel/refusal';
import { personName } from '../../accounts';
import { assessmentsNamed, commitBook, enrolledAmong, momentOf, systemAuthor, type Author } from '../../books';
import { isAllDone } from './when-done';
import { releaseIn } from './releases';
import {
  duePlannedReleases,
  endPlannedRelease,
  holdPlannedRelease,
  insertPlannedRelease,
  notePlannedLook,
  plannedReleasesOf,
  type PlannedReleaseRow,
} from '../sql/planned-releases';

/** Planned at most so long before. */
const MOST_DAYS = 400;
const MOST_WAITING = 100;

export async function plannedReleases(db: Db, school: string, book: string): Promise<PlannedReleases> {
  return (await plannedReleasesOf(db, school, book)).map((r) => ({
    ...{ id: r.id, assessment: r.assessment, parts: r.parts, at: r.at, fault: r.fault },
    students: r.enrolments?.length ?? null,
    by: personName(r),
  }));
}

/** What a line of the journal says of it; null: it is called off. */
const lineOf = (
  r: Pick<PlannedReleaseRow, 'id' | 'assessment' | 'at' | 'parts' | 'enrolments'>,
  off = false,
): LineContent => {
  const text = canonical({ id: r.id, at: r.at, parts: r.parts, students: r.enrolments?.length ?? null });
  return { kind: 'planned-release', assessment: r.assessment, enrolment: null, was: off ? text : null, becomes: off ? null : text }; // prettier-ignore
};

/** What is released at a moment: kept until then, and done by itself. */
export function planRelease(pool: pg.Pool, who: Author, write: PlannedReleaseWrite): Promise<PlannedReleases> {
  return commitBook(pool, who, write.operation, async (db) => {
    const { school, book } = who;
    if ((await assessmentsNamed(db, school, book, [write.assessment])).length === 0)
      throw new Refusal('not-found', 'There is no such assessment in this book.');
    const enrolments = write.enrolments && [...new Set(write.enrolments)];
    if (enrolments && (await enrolledAmong(db, school, book, enrolments)).size < enrolments.length)
      throw new Refusal('bad-request', 'Some of these students are not in this book. Nothing was planned.');
    const from = Date.parse(await momentOf(db, school));
    const days = write.at === null ? 1 : (Date.parse(write.at) - from) / 86_400_000;
    if (days <= 0) throw new Refusal('bad-request', 'This moment is past. Nothing was planned.');
    if (days > MOST_DAYS) throw new Refusal('bad-request', `A release is planned for the next ${MOST_DAYS} days at most. Nothing was planned.`); // prettier-ignore
    if ((await plannedReleasesOf(db, school, book)).filter((r) => r.waits).length >= MOST_WAITING)
      throw new Refusal(
        'bad-request',
        `${MOST_WAITING} releases are planned in this book already. Call one off first.`,
      );
    const row = {
      ...{ id: newId('pr'), assessment: write.assessment, enrolments, parts: [...(write.parts ?? RELEASE_PARTS)] },
      ...{ moveRules: write.moveRules, comment: write.comment?.trim() ?? null, tell: write.tell?.trim() ?? null },
      ...{ at: write.at && new Date(write.at).toISOString(), waits: true },
    };
    await insertPlannedRelease(db, who, row);
    return { lines: [lineOf(row)], answer: () => plannedReleases(db, school, book) };
  });
}

/** It is not done. What was done already is withdrawn instead. */
export function callOffRelease(pool: pg.Pool, who: Author, operation: string, id: string): Promise<PlannedReleases> {
  return commitBook(pool, who, operation, async (db) => {
    const { school, book } = who;
    const row = await holdPlannedRelease(db, school, book, id);
    if (!row) throw new Refusal('not-found', 'There is no such planned release in this book.');
    const answer = (): Promise<PlannedReleases> => plannedReleases(db, school, book);
    if (!row.waits) {
      if (row.fault === '') throw new Refusal('stale', 'It was released or called off already. Look again.');
      await endPlannedRelease(db, { school, book, id }, { calledOff: true });
      return { lines: [], answer };
    }
    await endPlannedRelease(db, { school, book, id }, { calledOff: true });
    return { lines: [lineOf(row, true)], answer };
  });
}

type Due = JobData & { book: string; id: string; person: string };

/** Does planned releases when their moment has come: a job for each, once, whichever server comes first. */
export const plannedReleaseJob: JobKind<Due> = {
  name: 'planned-release',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 300,
  keyOf: (of) => `${of.school} ${of.book} ${of.id}`,
  sweep: { everySeconds: 10, due: duePlannedReleases },
  run: ({ pool }, of) => runPlannedRelease(pool, of),
};

/** Not all of it is done after all: nothing of the transaction stays, and it is looked again. */
class NotDone extends Error {}

/** Once, however often and by how many servers it is begun: release and end of waiting are one transaction. */
export async function runPlannedRelease(pool: pg.Pool, { school, book, id, person }: Due): Promise<void> {
  const who = systemAuthor(school, book, person, 'planned release');
  const waiting = (await plannedReleasesOf(pool, school, book)).find((r) => r.id === id && r.waits);
  if (waiting?.at === null && !(await isAllDone(pool, { school, book, assessment: waiting.assessment })))
    return notePlannedLook(pool, { school, book, id });
  try {
    await commitBook(pool, who, `do-${id}`, async (db) => {
      const row = await holdPlannedRelease(db, school, book, id);
      if (!row?.waits) return { lines: [], answer: () => null };
      // Somebody did something between the look and the lock.
      if (row.at === null && !(await isAllDone(db, { school, book, assessment: row.assessment }))) throw new NotDone();
      const here = row.enrolments && (await enrolledAmong(db, school, book, row.enrolments));
      if (here?.size === 0) throw new Refusal('bad-request', 'None of the students is in the book any more.');
      const done = await releaseIn(db, who, {
        ...{ operation: `do-${id}`, assessment: row.assessment, enrolments: row.enrolments?.filter((e) => here!.has(e)) ?? null }, // prettier-ignore
        ...{ moveRules: row.moveRules, parts: row.parts },
        ...(row.comment === null ? {} : { comment: row.comment }),
        ...(row.tell === null ? {} : { tell: row.tell }),
      });
      await endPlannedRelease(db, { school, book, id }, { fault: '' });
      return { lines: done.lines, answer: () => null };
    });
  } catch (error) {
    if (error instanceof NotDone) return;
    if (!(error instanceof Refusal) || error.code === 'unavailable') throw error;
    // What cannot be done is said on the page of releases, and not tried for ever.
    await commitBook(pool, who, `not-${id}`, async (db) => {
      const row = await holdPlannedRelease(db, school, book, id);
      if (row?.waits) await endPlannedRelease(db, { school, book, id }, { fault: error.detail });
      return { lines: [], answer: () => null };
    });
  }
}
