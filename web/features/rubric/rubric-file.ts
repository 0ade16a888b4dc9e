import { MOST_CRITERIA, MOST_LEVELS, type Criterion, type Rubric } from '@core/rubric/document';
import { readRubricTable, type ReadRubric } from '@core/rubric/table';

const FORMAT = 'last-tally-rubric';

/** A rubric as a file that {@link readRubricFile} reads without loss (docs/formats/rubric.md). */
export const rubricFileText = (rubric: Rubric): string =>
  `${JSON.stringify({ format: FORMAT, version: 1, ...rubric }, null, 2)}\n`;

/** Reads a rubric from a file: JSON of ours, or a table. A sentence: why not. */
export function readRubricFile(text: string, newId: () => string): ReadRubric | string {
  if (!/^\uFEFF?\s*\{/.test(text)) return readRubricTable(text, newId);
  let value: unknown;
  try {
    value = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return 'This is no whole JSON file.';
  }
  const file = value as { format?: unknown; version?: unknown; by?: unknown; scaled?: unknown; criteria?: unknown };
  if (file.format !== FORMAT || file.version !== 1 || !Array.isArray(file.criteria))
    return 'This JSON file is no rubric of Last Tally.';
  if (file.criteria.length > MOST_CRITERIA) return `A rubric has ${MOST_CRITERIA} criteria at most.`;
  const criteria: Criterion[] = [];
  for (const [i, c] of file.criteria.entries()) {
    const read = readCriterion(c);
    if (!read) return `Criterion ${i + 1} of this file is not what a criterion looks like.`;
    criteria.push(read);
  }
  const by = file.by === 'weights' ? 'weights' : 'points';
  return { rubric: { by, ...(file.scaled === true && by === 'points' ? { scaled: true } : {}), criteria }, notes: [] };
}

const isId = (id: unknown): id is string => typeof id === 'string' && /^[A-Za-z0-9._-]{1,64}$/.test(id);
const isText = (text: unknown, most: number): text is string => typeof text === 'string' && text.length <= most;
const isNumber = (n: unknown): n is number => typeof n === 'number' && Number.isFinite(n);

function readCriterion(value: unknown): Criterion | null {
  if (typeof value !== 'object' || value === null) return null;
  const c = value as Record<string, unknown>;
  const { id, title, words, stands, weight, step, levels } = c;
  if (!isId(id) || !isText(title, 200) || !Array.isArray(levels) || levels.length > MOST_LEVELS) return null;
  if (stands !== 'counts' && stands !== 'bonus' && stands !== 'shown') return null;
  if (words !== undefined && !isText(words, 1_000)) return null;
  if ((weight !== undefined && !isNumber(weight)) || (step !== undefined && !isNumber(step))) return null;
  const read = levels.flatMap((l: unknown) => {
    const { id: level, points, words: said } = (l ?? {}) as Record<string, unknown>;
    return isId(level) && isNumber(points) && isText(said, 1_000) ? [{ id: level, points, words: said }] : [];
  });
  if (read.length !== levels.length) return null;
  return {
    ...{ id, title, stands, levels: read },
    ...(words === undefined ? {} : { words }),
    ...(weight === undefined ? {} : { weight }),
    ...(step === undefined ? {} : { step }),
  };
}
