import * as Y from 'yjs';
import type { Marking } from '@contract/work/marking';
import { type Client, operation } from './client';

/** What a teacher says of work, by the share of its points that it got: [at least, words]. */
const WORDS: readonly [number, readonly string[]][] = [
  [0.85, ['A clear transect, and every quadrat placed where you say. Keep the tally in one hand throughout.', 'Careful counts; the zoning comes out of them by itself. Say next time how you told the two sedges apart.']], // prettier-ignore
  [0.7, ['Good counts. The profile wants its heights: without them nobody can draw it again.', 'The zones are right, the reason for the second is missing. One sentence would do.']], // prettier-ignore
  [0.5, ['Half the quadrats have no place on the line, so the zones cannot be checked. Pace it out again.', 'Names are mixed with guesses; put a question mark where you are not sure.']], // prettier-ignore
  [0, ['Too little to see a transect in. Come by on Thursday, and we walk it once together.']],
];

/** A note as the editor would have sent it. */
export function noteOf(words: string): { update: string; has: string } {
  const doc = new Y.Doc();
  const paragraph = new Y.XmlElement('paragraph');
  paragraph.insert(0, [new Y.XmlText(words)]);
  doc.getXmlFragment('note').insert(0, [paragraph]);
  const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString('base64');
  return { update: text(Y.encodeStateAsUpdate(doc)), has: text(Y.encodeStateVector(doc)) };
}

/** Writes an end note for everybody with a score, and one thing to all of them when it is released. */
export async function writeFeedback(
  teacher: Client,
  at: { book: string; assessment: string; points: number },
  scores: ReadonlyMap<string, number>,
): Promise<void> {
  const { works } = await teacher.send<Marking>('GET', `/books/${at.book}/assessments/${at.assessment}/marking`);
  for (const [n, { enrolment, work }] of works.entries()) {
    const score = scores.get(enrolment);
    if (score === undefined) continue;
    const [, choice] = WORDS.find(([least]) => score / at.points >= least)!;
    await teacher.send(
      'POST',
      `/books/${at.book}/end-notes/${at.assessment}/${enrolment}/${work}`,
      noteOf(choice[n % choice.length]!),
    );
  }
}

/** Releases an assessment to everybody, with what was said of it. */
export async function releaseToAll(
  teacher: Client,
  at: { book: string; assessment: string },
  comment?: string,
): Promise<void> {
  await teacher.send('POST', `/books/${at.book}/release`, {
    ...{ operation: operation(), assessment: at.assessment, enrolments: null, moveRules: true },
    ...(comment === undefined ? {} : { comment }),
  });
}
