import { compare, fromNumber } from '../exact/fraction';
import { MOST_CRITERIA, MOST_LEVELS, MOST_PARTS, type Criterion, type CriterionMark, type Rubric } from './document';

/** What is wrong with a rubric: where, as a JSON pointer, and a sentence. */
export interface RubricProblem {
  pointer: string;
  message: string;
}

const MOST = 1_000_000;
const decimals = (n: number): number => /\.(\d+)$/.exec(String(n))?.[1]?.length ?? (/e-/.test(String(n)) ? 99 : 0);
const isAmount = (n: unknown): n is number =>
  typeof n === 'number' && Number.isFinite(n) && n >= 0 && n <= MOST && decimals(n) <= 4;

/** Everything that is wrong with a rubric; none where work can be marked by it. */
export function checkRubric(rubric: Rubric): RubricProblem[] {
  const problems: RubricProblem[] = [];
  const say = (pointer: string, message: string): void => void problems.push({ pointer, message });
  const { criteria } = rubric;
  if (criteria.length === 0) say('/criteria', 'A rubric has a criterion at least.');
  if (criteria.length > MOST_CRITERIA) say('/criteria', `A rubric has ${MOST_CRITERIA} criteria at most.`);
  const ids = new Set<string>();
  criteria.forEach((c, i) => {
    const at = `/criteria/${i}`;
    if (ids.has(c.id)) say(`${at}/id`, 'Two criteria have the same id.');
    ids.add(c.id);
    if (c.title.trim() === '') say(`${at}/title`, 'A criterion has a title.');
    checkLevels(c, at, say);
    if (rubric.by === 'weights' && c.stands !== 'shown') {
      if (!isAmount(c.weight))
        say(`${at}/weight`, 'A weight is a number that is not negative, with four decimals at most.');
      if (topOf(c) <= 0)
        say(`${at}/levels`, 'Its highest level is worth nothing, so that no share of it can be given.');
    }
    if (c.step !== undefined && (!isAmount(c.step) || c.step === 0))
      say(`${at}/step`, 'Part points go by a step above 0, with four decimals at most.');
    else if (c.step !== undefined && topOf(c) > MOST_PARTS * c.step)
      say(`${at}/step`, 'This step is too small for what the criterion is worth.');
  });
  const counting = criteria.filter((c) => c.stands === 'counts');
  if (criteria.length > 0 && counting.length === 0) say('/criteria', 'No criterion counts: the sum would be nothing.');
  else if (rubric.by === 'weights' && counting.length > 0 && counting.every((c) => (c.weight ?? 0) === 0))
    say('/criteria', 'Every weight is 0: the sum would be nothing.');
  else if (rubric.by === 'points' && rubric.scaled && counting.every((c) => topOf(c) === 0))
    say('/criteria', 'The criteria are worth nothing together, so that nothing can be brought to the points.');
  return problems;
}

function checkLevels(c: Criterion, at: string, say: (pointer: string, message: string) => void): void {
  if (c.levels.length < 1) say(`${at}/levels`, 'A criterion has a level at least.');
  if (c.levels.length > MOST_LEVELS)
    say(`${at}/levels`, `A criterion has ${MOST_LEVELS} levels at most: each has a key.`);
  const ids = new Set<string>();
  c.levels.forEach((l, j) => {
    if (ids.has(l.id)) say(`${at}/levels/${j}/id`, 'Two levels of a criterion have the same id.');
    ids.add(l.id);
    if (!isAmount(l.points))
      say(`${at}/levels/${j}/points`, 'Points are a number that is not negative, with four decimals at most.');
    else if (j > 0 && isAmount(c.levels[j - 1]!.points) && l.points <= c.levels[j - 1]!.points)
      say(`${at}/levels/${j}/points`, 'Levels rise: each is worth more than the one before it.');
  });
}

/** What the highest level of a criterion is worth. */
export const topOf = (c: Pick<Criterion, 'levels'>): number => c.levels.at(-1)?.points ?? 0;

/** Why a criterion cannot be given this, in a sentence; '' where it can. */
export function markProblem(c: Criterion, mark: CriterionMark): string {
  if ('leftOut' in mark) return '';
  if (!isAmount(mark.points)) return 'Points are a number that is not negative, with four decimals at most.';
  if (compare(fromNumber(mark.points), fromNumber(topOf(c))) > 0) return `${c.title} is worth ${topOf(c)} at most.`;
  return '';
}
