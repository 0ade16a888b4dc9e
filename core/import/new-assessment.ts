import type { Item } from '../book/document';

/** What a line such as "Check 3, 12, Checks, 4 Dec 17:00" makes. */
export interface AssessmentLine {
  title: string;
  /** Full marks, in points, at most four decimals. */
  points: number;
  /** The id of its category. */
  category: string;
  due: string | null;
  extraCredit: boolean;
  /** False: shown, and counted nowhere. */
  counts: boolean;
  /** What the line did not say and the book's other assessments suggest. */
  guessed: ('points' | 'category')[];
  /** Said with “like …”: what it takes after, for all that the line does not say itself. */
  like?: AssessmentTemplate;
  /** How it is handed in, where the line says so. */
  handedIn?: HandedIn;
}

/** Handed in through the application in any way, as one of these, or elsewhere. */
export type HandedIn = 'here' | 'files' | 'text' | 'link' | 'room' | 'tool' | 'nothing';

const HANDED_IN: Record<string, HandedIn> = {
  'handed in here': 'here',
  files: 'files',
  text: 'text',
  'a link': 'link',
  link: 'link',
  'in the room': 'room',
  'on paper': 'room',
  'in another tool': 'tool',
  'by another tool': 'tool',
  'nothing handed in': 'nothing',
};

/** An assessment that is made again and again. `more`: further keys of the contract's item. */
export interface AssessmentTemplate {
  title: string;
  points: number;
  category: string;
  takesWork: boolean;
  /** As the settings of handing in are kept. */
  work?: object;
  more: Readonly<Partial<Item>>;
}

export type AssessmentRead = { kind: 'read'; line: AssessmentLine } | { kind: 'refused'; message: string };

/** An assessment that the book has already. */
export interface KnownAssessment {
  title: string;
  category: string;
  points: number;
}

export interface AssessmentContext {
  categories: readonly { id: string; title: string }[];
  known: readonly KnownAssessment[];
  templates?: readonly AssessmentTemplate[];
  /** The category where nothing else suggests one; null: the first. */
  usual: string | null;
  /** Reads a day as typed, with its time; null where it is none. */
  day(text: string): string | null;
}

/** The longest title, in characters. */
const LONGEST = 120;
/** Points where the book has no assessment to go by. */
const POINTS = 10;
const MOST_POINTS = 1_000_000;

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase().trim();

/**
 * Reads an assessment typed in one line: its title, then in any order and parted by commas (or semicolons, where there is
 * one) its points, its category by its first letters, its due day, how it is handed in ("in the room", "files" …), "extra
 * credit", "only shown". What is left out follows
 * the book's other assessments. Nothing is guessed from what cannot be read: that is refused with its sentence.
 */
export function readAssessment(source: string, context: AssessmentContext): AssessmentRead {
  const refused = (says: string): AssessmentRead => ({ kind: 'refused', message: says });
  const [title = '', ...parts] = source
    .normalize('NFKC')
    .split(source.includes(';') ? ';' : ',')
    .map((p) => p.trim());
  if (title === '') return refused('Begin with its title: “Check 3, 12, 4 Dec”.');
  if (title.length > LONGEST) return refused(`A title has at most ${LONGEST} characters; this has ${title.length}.`);
  if (context.categories.length === 0) return refused('This book has no category yet. The rules make them.');
  if (context.known.some((k) => plain(k.title) === plain(title)))
    return refused(`There is a “${title}” in this book already.`);

  const said: Partial<Pick<AssessmentLine, 'points' | 'category' | 'due' | 'handedIn'>> = {};
  let extraCredit = false;
  let counts = true;
  let like: AssessmentTemplate | undefined;
  for (const part of parts.filter((p) => p !== '')) {
    const read = readPart(part, context);
    if (typeof read === 'string') return refused(read);
    if (read.kind === 'extra') extraCredit = true;
    else if (read.kind === 'shown') counts = false;
    else if (read.kind === 'like') like = read.value;
    else if (said[read.kind] !== undefined)
      return refused(`Its ${WORDS[read.kind]} stands there twice, the second time as “${part}”.`);
    else Object.assign(said, { [read.kind]: read.value });
  }
  if (like?.more.extraCredit) extraCredit = true;
  if (like?.more.counts === false) counts = false;
  const fits = like !== undefined && context.categories.some((c) => c.id === like!.category);
  const category = said.category ?? (fits ? like!.category : suggestedCategory(title, context));
  return {
    kind: 'read',
    line: {
      title,
      points: said.points ?? like?.points ?? suggestedPoints(category, context.known),
      category,
      due: said.due ?? null,
      extraCredit,
      counts,
      guessed: (['points', 'category'] as const).filter(
        (k) => said[k] === undefined && !(like && (k === 'points' || fits)),
      ),
      ...(like ? { like } : {}),
      ...(said.handedIn ? { handedIn: said.handedIn } : {}),
    },
  };
}

const WORDS = {
  points: 'number of points',
  category: 'category',
  due: 'due day',
  handedIn: 'way of handing in',
} as const;

type Part =
  | { kind: 'points'; value: number }
  | { kind: 'category' | 'due'; value: string }
  | { kind: 'handedIn'; value: HandedIn }
  | { kind: 'extra' }
  | { kind: 'like'; value: AssessmentTemplate }
  | { kind: 'shown' };

/** One part of the line, or the sentence that says why it is none. */
function readPart(part: string, { categories, templates = [], day }: AssessmentContext): Part | string {
  const named = /^like\s+(.+)$/i.exec(part)?.[1];
  if (named !== undefined) {
    const same = templates.filter((t) => plain(t.title) === plain(named));
    const begun = same.length > 0 ? same : templates.filter((t) => plain(t.title).startsWith(plain(named)));
    if (begun.length === 1) return { kind: 'like', value: begun[0]! };
    const all = (begun.length > 1 ? begun : templates).map((t) => t.title).join(', ');
    if (templates.length === 0) return 'You have no template yet. The page of an assessment keeps one.';
    return begun.length > 1 ? `“${named}” may be one of ${all}.` : `You have no template “${named}”. There are ${all}.`;
  }
  const points = /^(?:of\s+)?(\d{1,10}(?:\.\d+)?)(?:\s*points?)?$/i.exec(part)?.[1];
  if (points !== undefined) {
    if ((/\.(\d*?)0*$/.exec(points)?.[1]?.length ?? 0) > 4) return `“${part}” has more than four decimals.`;
    const value = Number(points);
    if (value === 0) return 'An assessment of 0 points can count for nothing. Say “only shown” for one without weight.';
    if (value > MOST_POINTS) return `“${part}” is more than an assessment can have.`;
    return { kind: 'points', value };
  }
  const word = plain(part);
  if (word === 'extra credit') return { kind: 'extra' };
  if (word === 'only shown') return { kind: 'shown' };
  const handedIn = HANDED_IN[word];
  // A category of that name comes first.
  if (handedIn && !categories.some((c) => plain(c.title) === word)) return { kind: 'handedIn', value: handedIn };
  const due = day(part.replace(/^due\s+/i, ''));
  if (due !== null) return { kind: 'due', value: due };
  const exact = categories.filter((c) => plain(c.title) === word);
  const found = exact.length > 0 ? exact : categories.filter((c) => plain(c.title).startsWith(word));
  if (found.length === 1) return { kind: 'category', value: found[0]!.id };
  const titles = (some: readonly { title: string }[]): string => some.map((c) => c.title).join(', ');
  return found.length > 1
    ? `“${part}” may be one of ${titles(found)}.`
    : `“${part}” is neither points, nor a day such as 27 Nov 17:00, nor a category. There are ${titles(categories)}.`;
}

/** That of the latest assessment whose title begins with the same word: "Check 3" goes where "Check 2" is. */
function suggestedCategory(title: string, { categories, known, usual }: AssessmentContext): string {
  const here = new Set(categories.map((c) => c.id));
  const first = (text: string): string => plain(text).split(/\s+/)[0]!;
  const alike = known.filter((k) => here.has(k.category) && first(k.title) === first(title));
  const last = alike[alike.length - 1];
  if (last) return last.category;
  return usual !== null && here.has(usual) ? usual : categories[0]!.id;
}

/** The points that most assessments of the category have; of several, those of the latest. */
function suggestedPoints(category: string, known: readonly KnownAssessment[]): number {
  const counts = new Map<number, number>();
  let best = POINTS;
  for (const k of known) {
    if (k.category !== category) continue;
    const n = (counts.get(k.points) ?? 0) + 1;
    counts.set(k.points, n);
    if (n >= (counts.get(best) ?? 0)) best = k.points;
  }
  return best;
}
