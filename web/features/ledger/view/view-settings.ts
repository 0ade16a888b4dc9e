/** Which students are shown by what their cells hold. */
export const ONLY = [
  { id: 'to-mark', label: 'work to mark' },
  { id: 'missing', label: 'missing work' },
  { id: 'late', label: 'late work' },
  { id: 'excused', label: 'excused work' },
  { id: 'own-date', label: 'an own due date' },
  { id: 'draft', label: 'a draft' },
  { id: 'since-release', label: 'a change since release' },
  { id: 'note', label: 'a note or second look' },
  { id: 'news', label: 'a change since you were here' },
] as const;
export type Only = (typeof ONLY)[number]['id'];

/** By name, section or standing, or by what counts of one assessment (its id). */
export interface Sort {
  by: string;
  down: boolean;
}

/** How one looks at the ledger. It stands in the address, and can be kept under a name. */
export interface ViewSettings {
  section: string | null;
  group: string | null;
  find: string;
  only: Only | null;
  /** The assessment that `only` looks at; null: all that are shown. */
  where: string | null;
  /** Standing below the beginning of this band. */
  below: string | null;
  sort: Sort;
  asMarked: boolean;
  hidden: string[];
  /** Assessments in the order of viewing; those not named follow in book order. */
  order: string[];
  /** Categories shown as their total alone. */
  folded: string[];
  /** Assessments whose criteria stand as columns after them. */
  criteria: string[];
  roomy: boolean;
  rank: boolean;
}

export const DEFAULT_VIEW: ViewSettings = {
  section: null,
  group: null,
  find: '',
  only: null,
  where: null,
  below: null,
  sort: { by: 'name', down: false },
  asMarked: false,
  hidden: [],
  order: [],
  folded: [],
  criteria: [],
  roomy: false,
  rank: false,
};

/** A look as the query of an address; what is as usual is left out, so that a plain look is no text at all. */
export function toQuery(look: ViewSettings): string {
  const q = new URLSearchParams();
  const put = (name: string, value: string | null): void => {
    if (value) q.set(name, value);
  };
  put('section', look.section);
  put('group', look.group);
  put('find', look.find.trim());
  put('only', look.only);
  put('in', look.only === null ? null : look.where);
  put('below', look.below);
  if (look.sort.by !== 'name' || look.sort.down) q.set('sort', `${look.sort.down ? '-' : ''}${look.sort.by}`);
  put('hide', look.hidden.join(' '));
  put('order', look.order.join(' '));
  put('fold', look.folded.join(' '));
  put('criteria', look.criteria.join(' '));
  if (look.asMarked) q.set('as', 'marked');
  if (look.roomy) q.set('rows', 'roomy');
  if (look.rank) q.set('rank', 'yes');
  return q.toString();
}

/** The look that an address names. What it names and does not exist is left out by {@link sound}. */
export function fromQuery(text: string): ViewSettings {
  const q = new URLSearchParams(text);
  const list = (name: string): string[] => (q.get(name) ?? '').split(' ').filter(Boolean);
  const sort = q.get('sort') ?? 'name';
  return {
    section: q.get('section'),
    group: q.get('group'),
    find: q.get('find') ?? '',
    only: ONLY.find((o) => o.id === q.get('only'))?.id ?? null,
    where: q.get('in'),
    below: q.get('below'),
    sort: { by: sort.replace(/^-/, ''), down: sort.startsWith('-') },
    asMarked: q.get('as') === 'marked',
    hidden: list('hide'),
    order: list('order'),
    folded: list('fold'),
    criteria: list('criteria'),
    roomy: q.get('rows') === 'roomy',
    rank: q.get('rank') === 'yes',
  };
}

export interface Known {
  sections: readonly string[];
  groups: readonly string[];
  items: readonly string[];
  categories: readonly string[];
  bands: readonly string[];
}

/** The look without what the book has not: an old address or view must not show an empty ledger and no reason. */
export function sound(look: ViewSettings, known: Known): ViewSettings {
  const one = (value: string | null, all: readonly string[]): string | null =>
    value !== null && all.includes(value) ? value : null;
  const some = (values: string[], all: readonly string[]): string[] => values.filter((v) => all.includes(v));
  const byKnown = ['name', 'section', 'standing', ...known.items].includes(look.sort.by);
  return {
    ...look,
    section: one(look.section, known.sections),
    group: one(look.group, known.groups),
    where: one(look.where, known.items),
    below: one(look.below, known.bands),
    sort: byKnown ? look.sort : DEFAULT_VIEW.sort,
    hidden: some(look.hidden, known.items),
    order: some(look.order, known.items),
    folded: some(look.folded, known.categories),
    criteria: some(look.criteria, known.items),
  };
}
