import type pg from 'pg';
import { canonical } from '@core/book/canonical';
import { readAnnotation, toAnnotation } from '@core/marks/annotation';
import { markFault, MOST, tidyMark, type WorkMark } from '@core/marks/work-mark';
import type { WorkMarkRow, WorkMarks, WorkMarkWrite } from '@contract/work/marks';
import { transaction, type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import {
  holdMarkedWork,
  insertMovedMark,
  markedSubmission,
  markOn,
  marksFor,
  marksOn,
  tellMarked,
  writeMark,
  type MarkedPlace,
  type MarkedSubmission,
  type MarkRow,
} from './sql';

export async function requireSubmission(db: Db, p: MarkedPlace): Promise<MarkedSubmission> {
  const submission = await markedSubmission(db, p);
  if (!submission) throw new Refusal('not-found', 'There is no such work in this book.');
  return submission;
}

/** Null: its text cannot be read as a mark any more. */
export function markOf(row: MarkRow): WorkMark | null {
  const read = readAnnotation(JSON.parse(row.annotation));
  return typeof read === 'string' ? null : read.mark;
}

const toRow = (row: MarkRow, reader: string): WorkMarkRow => ({
  ...{ id: row.id, version: row.version, leaf: row.leaf, mark: row.removed ? null : markOf(row) },
  ...{ by: personName(row), mine: row.person === reader, at: row.changedAt },
});

export async function workMarks(db: Db, p: MarkedPlace, reader: string): Promise<WorkMarks> {
  await requireSubmission(db, p);
  return (await marksOn(db, p)).flatMap((r) => (r.removed ? [] : [toRow(r, reader)]));
}

export const sourceOf = (p: MarkedPlace, leaf: string): string =>
  leaf === 'typed'
    ? `/api/v1/books/${p.book}/submissions/${p.submission}#typed`
    : `/api/v1/books/${p.book}/submissions/${p.submission}/files/${leaf}`;

export const annotationOf = (p: MarkedPlace, id: string, leaf: string, mark: WorkMark): string =>
  canonical(toAnnotation(mark, { id, source: sourceOf(p, leaf) }));

const UUID = /^[0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** Makes a mark, changes it or takes it off; never over what the writer has not seen. */
export function putMark(
  pool: pg.Pool,
  person: string,
  p: MarkedPlace,
  id: string,
  write: WorkMarkWrite,
): Promise<WorkMarkRow> {
  return transaction(pool, async (db) => {
    const submission = await requireSubmission(db, p);
    if (!UUID.test(id)) throw new Refusal('bad-request', 'A mark has a UUID as its id. Nothing was changed.');
    const mark = write.mark && tidyMark(write.mark);
    const fault = mark && markFault(mark);
    if (fault) throw new Refusal('bad-request', `${fault} Nothing was changed.`);
    const version = await holdMarkedWork(db, p, person);
    const was = await markOn(db, p, id);
    const leaf = was?.leaf ?? write.leaf;
    if (!was && !submission.leaves.includes(leaf))
      throw new Refusal('not-found', 'There is no such file in this work.');
    const annotation = mark ? annotationOf(p, id, leaf, mark) : (was?.annotation ?? '');
    const now = { annotation, removed: mark === null };
    if ((was?.version ?? 0) !== write.version) {
      // The same once more, whose answer was lost.
      const same = was !== null && was.version === write.version + 1 && was.annotation === now.annotation && was.removed === now.removed; // prettier-ignore
      if (same) return toRow(was, person);
      throw new Refusal('stale', 'This mark was changed after you saw it. Nothing of it was overwritten.', {
        now: was && toRow(was, person),
      });
    }
    if (!was && mark === null) throw new Refusal('not-found', 'There is no such mark on this work.');
    if (!was && (await marksOn(db, p)).length >= MOST.marks)
      throw new Refusal('too-large', `There are ${MOST.marks} marks on one piece of work at most. This was not kept.`);
    await writeMark(db, p, { id, leaf, ...now, version: write.version + 1, writer: person });
    const { assessment, enrolment } = submission;
    await tellMarked(db, p, { assessment, enrolment, version: version + 1, person });
    return toRow((await markOn(db, p, id))!, person);
  });
}

/** What is said of work for one assessment, in its marks. */
export async function commentsOn(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<{ enrolment: string; comment: string }[]> {
  return (await marksFor(db, p)).flatMap(({ enrolment, annotation }) => {
    const read = readAnnotation(JSON.parse(annotation));
    return typeof read === 'string' || read.mark.comment === '' ? [] : [{ enrolment, comment: read.mark.comment }];
  });
}

/** What students may be given of the marks on work for one assessment; what cannot be read any more is left out. */
export async function marksToGive(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<
  {
    enrolment: string;
    submission: string;
    id: string;
    leaf: string;
    mark: WorkMark;
    by: string;
    person: string;
    changedAt: string;
  }[]
> {
  return (await marksFor(db, p)).flatMap((row) => {
    const mark = markOf(row);
    const { enrolment, submission, id, leaf, person, changedAt } = row;
    return mark ? [{ enrolment, submission, id, leaf, mark, by: personName(row), person, changedAt }] : [];
  });
}

/** Marks go with work that is moved: the same marks by the same people, on the same leaves. */
export async function moveMarks(db: Db, from: MarkedPlace, to: MarkedPlace, person: string): Promise<void> {
  const rows = (await marksOn(db, from)).filter((r) => !r.removed);
  if (rows.length === 0) return;
  const version = await holdMarkedWork(db, to, person);
  for (const row of rows) {
    const mark = markOf(row);
    const annotation = mark ? annotationOf(to, row.id, row.leaf, mark) : row.annotation;
    await insertMovedMark(db, to, { id: row.id, leaf: row.leaf, annotation, person: row.person, madeAt: row.madeAt });
  }
  const submission = await requireSubmission(db, to);
  await tellMarked(db, to, { ...submission, version: version + 1, person });
}
