import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { readAnnotation, toAnnotation } from '@core/marks/annotation';
import { MOST, type WorkMark } from '@core/marks/work-mark';
import type { AnnotationPage, AnnotationsBrought } from '@contract/work/marks';
import { transaction, type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { holdMarkedWork, markOn, marksOn, tellMarked, writeMark, type MarkedPlace, type MarkedSubmission } from './sql';
import { annotationOf, markOf, requireSubmission, sourceOf } from './work-marks';

/** All marks as a W3C annotation page. */
export async function annotationPage(db: Db, p: MarkedPlace): Promise<AnnotationPage> {
  await requireSubmission(db, p);
  const items = (await marksOn(db, p)).flatMap((r) => {
    if (r.removed) return [];
    const mark = markOf(r);
    // What cannot be read as a mark any more leaves as it is kept.
    if (!mark) return [JSON.parse(r.annotation) as Record<string, unknown>];
    const said = { creator: personName(r), created: r.madeAt, modified: r.changedAt };
    return [toAnnotation(mark, { id: r.id, source: sourceOf(p, r.leaf), ...said })];
  });
  return {
    '@context': 'http://www.w3.org/ns/anno.jsonld',
    id: `/api/v1/books/${p.book}/submissions/${p.submission}/annotations`,
    type: 'AnnotationPage',
    startIndex: 0,
    items,
  };
}

/** Brings in what {@link annotationPage} gave, or what another program made of the same work. */
export function bringAnnotations(
  pool: pg.Pool,
  person: string,
  p: MarkedPlace,
  { leaf: usual, text }: { leaf: string; text: string },
): Promise<AnnotationsBrought> {
  const all = annotationsIn(text);
  return transaction(pool, async (db) => {
    const submission = await requireSubmission(db, p);
    if (!submission.leaves.includes(usual)) throw new Refusal('not-found', 'There is no such file in this work.');
    const version = await holdMarkedWork(db, p, person);
    const known = new Map((await marksOn(db, p)).map((r) => [r.id, r]));
    const brought: AnnotationsBrought = { brought: 0, same: 0, leftOut: [] };
    for (const [i, value] of all.entries()) {
      const leaveOut = (why: string): void => void brought.leftOut.push({ number: i + 1, why });
      const read = readAnnotation(value);
      if (typeof read === 'string') {
        leaveOut(read);
        continue;
      }
      const named = leafOf(p, submission, read.source, usual);
      if (named === null) {
        leaveOut('It lies on other work.');
        continue;
      }
      // Without an id the same words at the same place are the same mark.
      const id = read.id || contentId(p, named, read.mark);
      const was = known.get(id);
      const leaf = was?.leaf ?? named;
      const annotation = annotationOf(p, id, leaf, read.mark);
      if (was && !was.removed) {
        if (was.annotation === annotation) brought.same++;
        else leaveOut('It stands otherwise here, and stays so.');
        continue;
      }
      if (!was && known.size >= MOST.marks) {
        leaveOut(`There are ${MOST.marks} marks on one piece of work at most.`);
        continue;
      }
      await writeMark(db, p, { id, leaf, annotation, removed: false, version: (was?.version ?? 0) + 1, writer: person }); // prettier-ignore
      known.set(id, (await markOn(db, p, id))!);
      brought.brought++;
    }
    const { assessment, enrolment } = submission;
    if (brought.brought > 0) await tellMarked(db, p, { assessment, enrolment, version: version + 1, person });
    return brought;
  });
}

function annotationsIn(text: string): unknown[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Refusal('bad-request', 'This is no JSON. Nothing was brought in.');
  }
  const items = (value as { items?: unknown } | null)?.items;
  const all = Array.isArray(items) ? (items as unknown[]) : Array.isArray(value) ? (value as unknown[]) : [value];
  if (all.length > MOST.marks) throw new Refusal('too-large', 'There are too many marks in this. Nothing was brought in.'); // prettier-ignore
  return all;
}

/** Of an address of this submission the leaf that it names; of any other address that is ours none; else the usual. */
function leafOf(p: MarkedPlace, s: MarkedSubmission, source: string, usual: string): string | null {
  const named = s.leaves.find((leaf) => source.endsWith(sourceOf(p, leaf)));
  if (named) return named;
  return source.includes('/api/v1/books/') ? null : usual;
}

function contentId(p: MarkedPlace, leaf: string, mark: WorkMark): string {
  const hash = createHash('sha256')
    .update(canonical({ ...p, leaf, mark }))
    .digest('hex');
  // A UUID of version 8 (RFC 9562): of our own making.
  return `${hash.slice(0, 8)}-${hash.slice(8, 12)}-8${hash.slice(13, 16)}-8${hash.slice(17, 20)}-${hash.slice(20, 32)}`;
}
