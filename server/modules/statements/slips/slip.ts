import type { ReleasedFeedback, ReleasedRubric, Slip, SlipFile, SlipTrace } from '@contract/slips';
import type { Db } from '../../../kernel/database';
import { Refusal } from '../../../kernel/refusal';
import { personName } from '../../accounts';
import { assessmentsNamed, enrolmentsOf, findBook } from '../../books';
import { markPathSeen, slipPath } from '../../notices';
import { releasedPartsOf, type FeedbackPart, type ReleasedPart } from '../sql/released-parts';
import { releasedTo } from '../sql/releases';
import { freshSlips, insertSlipTrace, type SlipPlace } from '../sql/slip-traces';

/** Where the slip of the student who asks stands; refuses a book that is not theirs. */
export async function ownSlip(
  db: Db,
  who: { school: string; person: string; book: string; assessment: string },
): Promise<SlipPlace> {
  const own = (await enrolmentsOf(db, who.school, who.person, true)).find((e) => e.book === who.book);
  if (!own) throw new Refusal('not-found', 'You have no such book.');
  return { school: who.school, book: who.book, assessment: who.assessment, enrolment: own.enrolment };
}

const NONE = 'Nothing of this came back.';

/** What came back beside the score, as it was released; nothing of it is read from what staff have now. */
export async function slipOf(db: Db, p: SlipPlace): Promise<Slip> {
  const row = await findBook(db, p.school, p.book);
  const [assessment] = await assessmentsNamed(db, p.school, p.book, [p.assessment]);
  if (!row || !assessment?.shown) throw new Refusal('not-found', NONE);
  const parts = await partsOf(db, p);
  const score = (await releasedTo(db, p.school, p.book, [p.enrolment])).find((r) => r.assessment === p.assessment);
  const last = [...parts.values(), ...(score ? [{ ...score.by, releasedAt: score.releasedAt }] : [])]
    .toSorted((a, b) => Date.parse(a.releasedAt) - Date.parse(b.releasedAt))
    .at(-1);
  const [rubric, feedback] = [read<ReleasedRubric>(parts.get('rubric')), read<ReleasedFeedback>(parts.get('feedback'))];
  const hidden = assessment.work.markersHidden === true || rubric?.markersHidden || feedback?.markersHidden;
  return {
    book: p.book,
    assessment: p.assessment,
    title: assessment.title,
    timeZone: row.timeZone,
    releasedAt: last?.releasedAt ?? null,
    releasedBy: last && !hidden ? personName({ family: last.family, given: last.given, role: 'staff' }) : '',
    fresh: (await freshSlips(db, p)).get(p.assessment)?.fresh ?? false,
    rubric,
    feedback,
    comment: parts.get('feedback')?.comment ?? '',
  };
}

async function partsOf(db: Db, p: SlipPlace): Promise<Map<FeedbackPart, ReleasedPart>> {
  return new Map((await releasedPartsOf(db, p, [p.enrolment])).map((r) => [r.part, r]));
}

const read = <T>(part: ReleasedPart | undefined): T | null => (part ? (JSON.parse(part.body) as T) : null);

/** A recording or a file of a slip, while it is released; nothing else has an address here. */
export async function slipFile(db: Db, p: SlipPlace, id: string): Promise<SlipFile> {
  const [assessment] = await assessmentsNamed(db, p.school, p.book, [p.assessment]);
  const feedback = assessment?.shown ? read<ReleasedFeedback>((await partsOf(db, p)).get('feedback')) : null;
  const file = filesOf(feedback).find((f) => f.id === id);
  if (!file) throw new Refusal('not-found', 'There is no such file.');
  return file;
}

const filesOf = (feedback: ReleasedFeedback | null): SlipFile[] =>
  feedback ? [...feedback.works.flatMap((w) => w.files), ...feedback.everybody] : [];

/** That its student opened it or played a recording; of what is not released nothing is noted. */
export async function traceSlip(db: Db, p: SlipPlace, trace: SlipTrace): Promise<void> {
  if (trace.kind === 'played') await slipFile(db, p, trace.file ?? '');
  const released = await insertSlipTrace(db, p, trace);
  if (!released) throw new Refusal('not-found', NONE);
  // Whoever has it before them need not be told of it any more.
  if (trace.kind === 'opened') await markPathSeen(db, p, slipPath(p.book, p.assessment));
}
