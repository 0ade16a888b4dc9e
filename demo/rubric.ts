import type { Rubric } from '@core/rubric/document';
import type { Marking } from '@contract/work/marking';
import { type Client, operation } from './client';

/** What a teacher marks an assessment by, and what those with a score were given. */
export async function markByRubric(
  teacher: Client,
  at: { book: string; assessment: string },
  rubric: Rubric,
  scores: ReadonlyMap<string, number>,
): Promise<void> {
  const place = `/books/${at.book}/assessments/${at.assessment}`;
  await teacher.send('PUT', `${place}/rubric`, { operation: operation(), version: 0, rubric });
  const { works } = await teacher.send<Marking>('GET', `${place}/marking`);
  for (const { enrolment, work } of works) {
    const score = scores.get(enrolment);
    const given = score === undefined ? null : spread(rubric, score);
    if (given === null) continue;
    await teacher.send('PUT', `/books/${at.book}/levels/${at.assessment}/${enrolment}`, {
      ...{ operation: operation(), work, rubric: 1, cell: 0 },
      // They make the score that stands.
      sum: 'keep',
      marks: rubric.criteria.map((c, i) => ({ criterion: c.id, version: 0, mark: { points: given[i] } })),
    });
  }
}

/** Points of the criteria, in halves, that make a score together; null where no halves do. */
function spread({ criteria }: Rubric, score: number): number[] | null {
  if (!Number.isInteger(score * 2)) return null;
  const tops = criteria.map((c) => c.levels.at(-1)!.points);
  const all = tops.reduce((a, b) => a + b, 0);
  const given = tops.map((top) => Math.floor((2 * top * score) / all) / 2);
  let left = score - given.reduce((a, b) => a + b, 0);
  for (let i = 0; left > 0 && i < given.length; i++) {
    const more = Math.min(left, tops[i]! - given[i]!);
    given[i]! += more;
    left -= more;
  }
  return left === 0 ? given : null;
}
