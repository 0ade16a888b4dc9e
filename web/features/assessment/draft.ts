import type { PlacedItem } from '@core/book/assemble';
import type { Item } from '@core/book/document';
import type { AssessmentWhole, AssessmentWrite } from '@contract/assessments';

/** What is being changed of an assessment: those parts that a person edits here. */
export type Draft = Pick<
  AssessmentWhole,
  'title' | 'category' | 'points' | 'due' | 'closes' | 'takesWork' | 'work' | 'shown' | 'more'
>;

export const draftOf = ({
  title,
  category,
  points,
  due,
  closes,
  takesWork,
  work,
  shown,
  more,
}: AssessmentWhole): Draft => ({
  title,
  category,
  points,
  due,
  closes,
  takesWork,
  work,
  shown,
  more,
});

/** `more` with a key set, or left out where it says what the contract says anyway. */
export function withMore<K extends keyof Item>(more: Partial<Item>, key: K, value: Item[K] | undefined): Partial<Item> {
  const out = { ...more };
  if (value === undefined) delete out[key];
  else out[key] = value;
  return out;
}

type More = Partial<Item>;

/** How it counts: "counts", "extra" credit, or only "shown". */
export const howCounts = (more: More): string =>
  more.extraCredit ? 'extra' : more.counts === false ? 'shown' : 'counts';

export function countingAs({ counts: _c, extraCredit: _e, ...more }: More, how: string): More {
  if (how === 'extra') return { ...more, extraCredit: true };
  return how === 'shown' ? { ...more, counts: false } : more;
}

/** Its attempts with some of it said otherwise; what is undefined is said no more. */
export function withAttempts(
  more: More,
  part: { [K in keyof NonNullable<More['attempts']>]?: NonNullable<More['attempts']>[K] | undefined },
): More['attempts'] {
  const said = Object.entries({ ...more.attempts, ...part }).filter(([, value]) => value !== undefined);
  return said.length === 0 ? undefined : (Object.fromEntries(said) as More['attempts']);
}

/** The dates of sections with one of them; null: that of everybody. */
export function withSectionDate(
  more: More,
  section: string,
  part: 'due' | 'closes',
  at: string | null,
): More['sectionDates'] {
  const dates = { ...more.sectionDates };
  const { [part]: _was, ...rest } = dates[section] ?? {};
  const own = at === null ? rest : { ...rest, [part]: at };
  if (Object.keys(own).length === 0) delete dates[section];
  else dates[section] = own;
  return Object.keys(dates).length === 0 ? undefined : dates;
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([k, v]) => [k, sorted(v)]),
  );
}

/** Only what is other than it is kept, as it is sent. */
export function changesOf(was: AssessmentWhole, is: Draft): Partial<AssessmentWrite> {
  const out: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(draftOf(was)))
    if (!same(value, is[key as keyof Draft])) out[key] = is[key as keyof Draft];
  return out as Partial<AssessmentWrite>;
}

/** Why a draft cannot be kept; empty where it can. */
export function faultOf(draft: Draft): string {
  if (draft.title.trim() === '') return 'It needs a title.';
  if (!Number.isFinite(draft.points) || draft.points < 0) return 'Points are a number, as in 20 or 12.5.';
  if (draft.points === 0 && draft.more.counts !== false && draft.more.extraCredit !== true)
    return 'An assessment of 0 points can only be shown, or be extra credit.';
  if (draft.due && draft.closes && draft.closes < draft.due) return 'It is taken in until a day before it is due.';
  for (const d of Object.values(draft.more.sectionDates ?? {}))
    if (d.due && d.closes && d.closes < d.due) return 'In one section it is taken in until a day before it is due.';
  const { retakeCap: cap = [], newest, regain } = draft.more.attempts ?? {};
  if ([cap].flat().some((c) => !Number.isFinite(c) || c < 0))
    return 'The cap of a retake is a percentage, as in 80, or one for each further attempt, as in 90, 80, 70.';
  if (newest !== undefined && !(newest > 0 && newest <= 100))
    return 'What the newest attempt makes of the whole is a percentage up to 100, as in 60.';
  if (regain !== undefined && !(regain >= 0 && regain <= 100))
    return 'What is won back is a percentage up to 100, as in 50.';
  if (draft.more.weight !== undefined && (!Number.isFinite(draft.more.weight) || draft.more.weight < 0))
    return 'A weight is a number that is not negative.';
  return '';
}

/** The book's assessments with the draft in the place of the one it is of. Another category: at its end, as it is kept. */
export function placedWith(placed: PlacedItem[], id: string, draft: Draft): PlacedItem[] {
  const item: Item = { ...draft.more, id, type: 'item', points: draft.points };
  if (draft.due !== null) item.due = draft.due;
  if (draft.closes !== null) item.closes = draft.closes;
  const fresh = { category: draft.category, item };
  return placed.some((p) => p.item.id === id) ? placed.map((p) => (p.item.id === id ? fresh : p)) : [...placed, fresh];
}
