import { counted, listed } from '@core/words/count';
import { FLAG, STATES, type CellColumns } from '../../../worker/protocol';
import { groupsDeep, titleOf, type Draft } from '../draft';
import { type Sentence } from '../sentences/sentence';

/** The cells of the open book, by student and item, and what students are called. */
export interface OpenClass {
  cells: CellColumns;
  students: readonly string[];
  itemIndex: ReadonlyMap<string, number>;
  name(student: string): string;
  /** Each student's letter, in the order of the students; null: none. */
  letters: readonly (string | null)[];
}

/** Names that are said one by one. */
const NAMED = 6;

const some = (names: readonly string[]): string =>
  names.length > NAMED ? `${names.slice(0, NAMED).join(', ')} …` : `${names.join(', ')}.`;

/** In which cells a kind of rules is felt now, and how that is said of one student and of several. */
const FELT: Readonly<Record<string, { is(c: CellColumns, at: number): boolean; one: string; many: string }>> = {
  lateness: { is: (c, at) => c.taken[at]! > 0, one: 'student loses points by it', many: 'students lose points by it' },
  blanks: {
    is: (c, at) => ['blank', 'missing'].includes(STATES[c.state[at]!]!),
    one: 'student has a blank there',
    many: 'students have a blank there',
  },
  drops: {
    is: (c, at) => (c.flags[at]! & FLAG.dropped) !== 0,
    one: 'student has something dropped there',
    many: 'students have something dropped there',
  },
};
const COUNTS = {
  is: (c: CellColumns, at: number): boolean => !Number.isNaN(c.counts[at]!),
  one: 'student has something that counts there',
  many: 'students have something that counts there',
};

function people(names: readonly string[], of: number, one: string, many: string): string {
  if (names.length === 0) return `No ${one}.`;
  const all = names.length === of && of > 1 ? `All ${of} ${many}.` : null;
  return all ?? `${names.length} ${names.length === 1 ? one : `of ${of} ${many}`}: ${some(names)}`;
}

/** Which assessments and categories a sentence touches. */
function work(ids: readonly string[], draft: Draft): string {
  const all = draft.items;
  if (ids.length === 0) return 'Touches no assessment.';
  if (ids.length === all.length) return `Touches all ${counted(all.length, 'assessment')}.`;
  const here = all.filter((i) => ids.includes(i.id));
  const categories = groupsDeep(draft.rules.tree)
    .filter((p) => p.parent !== null && here.some((i) => i.category === p.group.id))
    .map((p) => titleOf(draft, p.group));
  const within = categories.length > 0 ? `, in ${listed(categories)}` : '';
  return `Touches ${ids.length} of ${counted(all.length, 'assessment')}${within}: ${some(here.map((i) => i.title))}`;
}

/** What a sentence touches, in words: assessments with their categories, and whom it concerns now. */
export function touchedWords(part: string, s: Sentence, draft: Draft, group: OpenClass | null): string[] {
  const letter = /^band (.+)$/.exec(s.id)?.[1];
  if (part === 'letters' && letter !== undefined && group) {
    const names = group.students.filter((_, i) => group.letters[i] === letter).map(group.name);
    return [people(names, group.students.length, `student has ${letter}`, `students have ${letter}`)];
  }
  if (!s.touches) return [];
  const said = [work(s.touches, draft)];
  if (!group || s.touches.length === 0) return said;
  const felt = FELT[part] ?? COUNTS;
  const width = group.itemIndex.size;
  const items = s.touches.flatMap((id) => group.itemIndex.get(id) ?? []);
  const names = group.students
    .filter((_, n) => items.some((i) => felt.is(group.cells, n * width + i)))
    .map((id) => group.name(id));
  return [...said, people(names, group.students.length, felt.one, felt.many)];
}
