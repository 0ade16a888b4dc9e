import type { RulesPart } from './change';
import type { Group } from './document';

/** A category as it is said when a book is made: its title and its share of the whole in percent. */
export interface FirstCategory {
  id: string;
  title: string;
  weight: number;
}

/**
 * The rules that a new book begins with: categories by weight, points within each; a blank past its due date is nothing
 * earned, before it nothing at all; a late day costs nothing until a rule says so; one decimal, half up; no letters.
 */
export function firstRules(categories: readonly FirstCategory[]): RulesPart {
  return {
    rules: { blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } } },
    blank: 'usual',
    late: null,
    rounding: { decimals: 1, mode: 'half-up' },
    tree: {
      id: 'all',
      type: 'group',
      combine: 'weights',
      children: categories.map((c): Group => ({
        id: c.id,
        type: 'group',
        combine: 'points',
        weight: c.weight,
        children: [],
        info: { title: c.title },
      })),
    },
  };
}

/** Reads "Field work 40, Checks 60": titles with their weights. Null and the piece where one cannot be read. */
export function readCategories(text: string): { categories: FirstCategory[] } | { message: string } {
  const pieces = text.split(/[,;\n]/).map((p) => p.trim());
  const categories: FirstCategory[] = [];
  const ids = new Set<string>(['all']);
  for (const piece of pieces.filter((p) => p !== '')) {
    const m = /^(.*\S)\s+(\d{1,6}(?:\.\d{1,4})?)\s*%?$/.exec(piece);
    if (!m) return { message: `“${piece}” is no category with its weight, such as “Field work 40”.` };
    const title = m[1]!.trim();
    const base = idOf(title);
    let id = base;
    for (let n = 2; ids.has(id); n++) id = `${base}-${n}`;
    ids.add(id);
    categories.push({ id, title, weight: Number(m[2]) });
  }
  if (categories.length === 0) return { message: 'A book needs at least one category, such as “Field work 100”.' };
  if (categories.every((c) => c.weight === 0)) return { message: 'At least one category needs a weight above 0.' };
  return { categories };
}

const idOf = (title: string): string =>
  title
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 40) || 'category';
