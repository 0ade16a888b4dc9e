import { settingsOf, type ItemSettings, type Proposal } from '../proposal/proposal';
import { rulesOf, type PlacedItem } from './assemble';
import type { RulesPart } from './change';
import { checkBook } from './checks/check';
import { groupsOf, itemsOf, type BookDocument, type Group } from './document';
import type { Problem } from './checks/problems';

export const RULES_FORMAT = 'last-tally.rules/1';

/** The rules and tree of a book as a file: the contract's document (section 1) without time, people and entries. */
export type RulesFile = { format: typeof RULES_FORMAT } & RulesPart;

/** Two spaces, a line for each key, so that two versions can be compared line by line. */
export function rulesFileText(book: BookDocument): string {
  const file: RulesFile = { format: RULES_FORMAT, ...rulesOf(book), tree: book.tree };
  return `${JSON.stringify(file, null, 2)}\n`;
}

/** What a file would make of a book's rules, and what of it has no place there. */
export interface ReadRules {
  wish: Proposal;
  /** Items of the file that the book does not have, and of the book that the file does not name, by id. */
  strange: string[];
  untold: string[];
  /** Items whose category is not in the file: they would stand in the whole. */
  homeless: string[];
}

/**
 * Reads a rules file, or a whole book document of which only rules and tree are taken. Items are matched by id and keep
 * their place, points and dates; their settings are the file's.
 */
export function readRulesFile(text: string, placed: readonly PlacedItem[]): ReadRules | { problems: Problem[] } {
  let file: unknown;
  try {
    file = JSON.parse(text);
  } catch {
    return { problems: [{ at: '', says: 'The file is no JSON.' }] };
  }
  if (typeof file !== 'object' || file === null || Array.isArray(file))
    return { problems: [{ at: '', says: 'The file holds no rules.' }] };
  const { format, ...keys } = file as Record<string, unknown>;
  if (format !== RULES_FORMAT && format !== 'last-tally.book/1')
    return {
      problems: [{ at: '/format', says: `The file is neither “${RULES_FORMAT}” nor “last-tally.book/1”.` }],
    };
  // Of a whole book nothing is taken but rules and tree: its people and entries are not looked at.
  const rules =
    format === RULES_FORMAT ? keys : Object.fromEntries(Object.entries(keys).filter(([key]) => !NOT_RULES.has(key)));
  const checked = checkBook({
    format: 'last-tally.book/1',
    timeZone: 'UTC',
    asOf: '2000-01-01T00:00:00Z',
    students: [],
    entries: [],
    ...rules,
  });
  if (!checked.ok) return { problems: checked.problems };
  const { book } = checked;
  const told = new Map(itemsOf(book.tree).map((i) => [i.id, settingsOf(i)]));
  const here = new Set(placed.map((p) => p.item.id));
  const groups = new Set(groupsOf(book.tree).map((g: Group) => g.id));
  const items: Record<string, ItemSettings> = {};
  for (const { item } of placed) if (told.has(item.id)) items[item.id] = told.get(item.id)!;
  return {
    wish: { rules: rulesOf(book), items },
    strange: [...told.keys()].filter((id) => !here.has(id)),
    untold: [...here].filter((id) => !told.has(id)),
    homeless: placed.filter((p) => !groups.has(p.category)).map((p) => p.item.id),
  };
}

const NOT_RULES = new Set(['timeZone', 'asOf', 'students', 'entries', 'overrides', 'info']);
