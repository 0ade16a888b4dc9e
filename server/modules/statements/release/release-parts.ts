import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import type { ReleasePart } from '@contract/slips';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { CellRow } from '../../../kernel/cells/sql';
import type { LineContent, Who } from '../../../kernel/journal/sql/lines';
import { NO_FEEDBACK, type AssessmentParts } from './parts-to-release';
import {
  releasedPartsOf,
  withdrawReleasedParts,
  writeReleasedParts,
  type FeedbackPart,
  type ReleasedPart,
} from '../sql/released-parts';

/** Those of the parts that stand beside the score. */
export const feedbackPartsOf = (parts: readonly ReleasePart[]): FeedbackPart[] =>
  parts.flatMap((part) => (part === 'score' ? [] : [part]));

/** What of the parts each student has now, by enrolment. */
type Held = Map<string, Map<FeedbackPart, ReleasedPart>>;

function byStudent(rows: readonly ReleasedPart[]): Held {
  const held: Held = new Map();
  for (const r of rows) held.set(r.enrolment, (held.get(r.enrolment) ?? new Map()).set(r.part, r));
  return held;
}

const hash = (part: { body: string; comment: string }): string =>
  createHash('sha256').update(`${part.body}\n${part.comment}`).digest('hex');

/** What a line of the journal says of the parts that a student sees; null: none. */
function lineText(held: ReadonlyMap<FeedbackPart, { body: string; comment: string }> | undefined): string | null {
  if (!held || held.size === 0) return null;
  return canonical(Object.fromEntries([...held].map(([part, r]) => [part, hash(r)])));
}

const partLine = (assessment: string, enrolment: string, was: string | null, becomes: string | null): LineContent => ({
  ...{ kind: 'feedback-release', assessment, enrolment, was, becomes },
});

export interface PartsDone {
  lines: LineContent[];
  /** What each of these sees otherwise than before. */
  changed: Map<string, FeedbackPart[]>;
}

/**
 * Releases rubric or feedback as they are now; what there is nothing of any more is hidden. `comment`: said to everybody;
 * undefined: what was said before stays. `now`: what there is.
 */
export async function releaseParts(
  db: BookTransaction,
  who: Who,
  of: { assessment: string; at: string; enrolments: readonly string[]; cells: ReadonlyMap<string, CellRow> },
  parts: readonly FeedbackPart[],
  now: AssessmentParts,
  comment: string | undefined,
): Promise<PartsDone> {
  const p = { school: who.school, book: who.book, assessment: of.assessment };
  const before = byStudent(await releasedPartsOf(db, p, of.enrolments));
  const done: PartsDone = { lines: [], changed: new Map() };
  const puts: { enrolment: string; part: FeedbackPart; body: string; comment: string }[] = [];
  const gone = new Map<FeedbackPart, string[]>();
  for (const enrolment of of.enrolments) {
    const fresh = now.of(enrolment, of.cells.get(enrolment));
    const had = before.get(enrolment);
    const has = new Map<FeedbackPart, { body: string; comment: string }>(had);
    for (const part of parts) {
      const said = part === 'feedback' ? (comment ?? had?.get(part)?.comment ?? '') : '';
      const body = fresh[part] ?? (said === '' ? null : NO_FEEDBACK);
      const was = had?.get(part);
      if (was?.body === body && was?.comment === said) continue;
      if (body === null) {
        if (!was) continue;
        has.delete(part);
        gone.set(part, [...(gone.get(part) ?? []), enrolment]);
      } else {
        has.set(part, { body, comment: said });
        puts.push({ enrolment, part, body, comment: said });
      }
      done.changed.set(enrolment, [...(done.changed.get(enrolment) ?? []), part]);
    }
    if (done.changed.has(enrolment)) done.lines.push(partLine(of.assessment, enrolment, lineText(had), lineText(has)));
  }
  await writeReleasedParts(db, { ...p, at: of.at, by: who.person }, puts);
  for (const [part, enrolments] of gone) await withdrawReleasedParts(db, { ...p, at: of.at }, enrolments, [part]);
  return done;
}

/** Hides rubric or feedback again. */
export async function withdrawParts(
  db: BookTransaction,
  who: Who,
  of: { assessment: string; at: string; enrolments: readonly string[] },
  parts: readonly FeedbackPart[],
): Promise<PartsDone> {
  const p = { school: who.school, book: who.book, assessment: of.assessment };
  const done: PartsDone = { lines: [], changed: new Map() };
  for (const [enrolment, had] of byStudent(await releasedPartsOf(db, p, of.enrolments))) {
    const left = new Map([...had].filter(([part]) => !parts.includes(part)));
    if (left.size === had.size) continue;
    done.changed.set(
      enrolment,
      [...had.keys()].filter((part) => parts.includes(part)),
    );
    done.lines.push(partLine(of.assessment, enrolment, lineText(had), lineText(left)));
  }
  await withdrawReleasedParts(db, { ...p, at: of.at }, [...done.changed.keys()], parts);
  return done;
}
