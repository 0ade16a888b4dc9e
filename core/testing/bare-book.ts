import type { RulesPart } from '../book/change';
import type { BookDocument, Group, Item, Node } from '../book/document';

/** The rules of a book with the same categories and nothing else: everything counts by points, a blank past its date is 0, no letters. */
export function bareRules(book: BookDocument): RulesPart {
  return {
    rules: { blank: { usual: { beforeDue: 'skip', afterDue: { percent: 0 } } } },
    blank: 'usual',
    rounding: { decimals: 1, mode: 'half-up' },
    tree: bareGroup(book.tree, false),
  };
}

/** The book with such rules; its assessments have points and dates and no settings. */
export function bareBook(book: BookDocument): BookDocument {
  const { rules: _r, blank: _b, late: _l, scale: _s, hurdles: _h, variants: _v, shown: _w, lateAllowanceHours: _a, ...rest } = book; // prettier-ignore
  return { ...rest, ...bareRules(book), tree: bareGroup(book.tree, true) };
}

function bareGroup(g: Group, withItems: boolean): Group {
  return {
    id: g.id,
    type: 'group',
    combine: 'points',
    children: g.children.flatMap((c): Node[] =>
      c.type === 'group' ? [bareGroup(c, withItems)] : c.type === 'item' && withItems ? [bareItem(c)] : [],
    ),
  };
}

const bareItem = ({ id, points, due, closes, sectionDates }: Item): Item => ({
  id,
  type: 'item',
  points,
  ...(due !== undefined && { due }),
  ...(closes !== undefined && { closes }),
  ...(sectionDates !== undefined && { sectionDates }),
});
