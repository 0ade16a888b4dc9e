import type pg from 'pg';
import type { OwnData } from '@contract/own-data';
import { snapshot, type Db } from '../../kernel/database';
import type { FileStore } from '../../kernel/files/file-store';
import { findSchool, type Person } from '../accounts';
import { enrolmentsOf } from '../books';
import { noticesOf } from '../notices';
import { slipOf, studentBook } from '../statements';
import { studentAssessment } from '../submissions';
import { studentThread, threadsBy } from '../threads';

/**
 * All that a student may read, in one value: put together from what their pages are made of, so that nothing is in it that
 * they could not read there.
 */
export async function ownData(pool: pg.Pool, files: FileStore, person: Person): Promise<OwnData> {
  const { school } = person;
  const [found, enrolments, asked] = await Promise.all([
    findSchool(pool, school),
    enrolmentsOf(pool, school, person.id, true),
    threadsBy(pool, school, person.id, true),
  ]);
  const books: OwnData['books'] = [];
  for (const { book, enrolment } of enrolments) {
    const page = await snapshot(pool, (db) => studentBook(db, school, person.id, book));
    const work: OwnData['books'][number]['work'] = [];
    for (const { id } of page.work)
      work.push(await studentAssessment(pool, files, { school, person: person.id, book, assessment: id }));
    const slips = await snapshot(pool, (db) => readSlips(db, { school, book, enrolment }, page.work));
    const threads: OwnData['books'][number]['threads'] = [];
    for (const { assessment } of asked.filter((t) => t.book === book))
      threads.push({
        assessment,
        thread: await snapshot(pool, (db) => studentThread(db, { school, person: person.id, book, assessment })),
      });
    books.push({ page, work, slips, threads });
  }
  return {
    ...{ format: 'last-tally own data', version: 1, madeAt: found!.now, school: found!.title },
    person: { login: person.login, family: person.family, given: person.given },
    books,
    notices: await noticesOf(pool, school, person.id),
  };
}

async function readSlips(
  db: Db,
  at: { school: string; book: string; enrolment: string },
  work: OwnData['books'][number]['page']['work'],
): Promise<OwnData['books'][number]['slips']> {
  const slips = [];
  for (const { id, score, feedback } of work)
    if (score !== null || feedback) slips.push(await slipOf(db, { ...at, assessment: id }));
  return slips;
}
