import type { BookDocument, Entry, Item, Node, ResultDocument, Student } from '../book/document';
import { cmp, div, HUNDRED, min, mul, num, q, sub, text, ZERO, type Q } from './reference-fraction';
import { tree, type Tree } from './reference-groups';
import { valueOf, type Path, type Value } from './reference-values';

/**
 * The contract once more, read plainly: fractions of big integers alone, every set of drops tried, days walked one by
 * one, nothing kept from one step to the next. Slow on purpose. It shares no code with the calculation that it checks;
 * local days are luxon's.
 */
export function plainResult(book: BookDocument): ResultDocument {
  return { format: 'last-tally.result/1', students: book.students.map((s) => plainStudent(book, s)) };
}

function plainStudent(book: BookDocument, student: Student): ResultDocument['students'][number] {
  const entry = (item: Item): Entry | undefined =>
    book.entries.find((e) => e.student === student.id && e.item === item.id);
  const values = new Map<string, Value>();
  walk(book.tree, { late: book.late ?? null, blank: book.blank, optional: false }, (item, path) =>
    values.set(item.id, valueOf(book, student, item, entry(item), path)),
  );
  const now = tree(book, values, entry);
  const end = (full: boolean): ReturnType<typeof final> => {
    const closed = new Map<string, Value>();
    walk(book.tree, { late: null, blank: '', optional: false }, (item) => {
      const v = values.get(item.id)!;
      const earned = full ? num(item.points) : ZERO;
      closed.set(item.id, v.open ? { skipped: false, earned, state: v.state, open: false } : v);
    });
    return final(book, student, closed, tree(book, closed, entry));
  };
  const is = final(book, student, values, now);
  const items: ResultDocument['students'][number]['items'] = [];
  const groups: ResultDocument['students'][number]['groups'] = [];
  const list = (node: Node): void => {
    if (node.type === 'item') {
      const v = values.get(node.id)!;
      items.push({
        id: node.id,
        state: v.state as 'set',
        earned: v.skipped ? null : text(v.earned),
        dropped: now.dropped.has(node.id),
      });
    } else {
      const ratio = now.ratios.get(node.id) ?? null;
      groups.push({ id: node.id, exact: ratio === null ? null : text(mul(ratio, HUNDRED)) });
      node.children.forEach(list);
    }
  };
  list(book.tree);
  return {
    id: student.id,
    percent: is.rounded,
    exact: is.exact === null ? null : text(is.exact),
    letter: is.letter,
    low: end(false).rounded,
    high: end(true).rounded,
    items,
    groups,
  };
}

function walk(node: Node, above: Path, then: (item: Item, path: Path) => void): void {
  const path = {
    late: node.late === undefined ? above.late : node.late,
    blank: node.blank ?? above.blank,
    optional: above.optional || node.extraCredit === true,
  };
  if (node.type === 'item') then(node, path);
  else node.children.forEach((c) => walk(c, path, then));
}

// Sections 6 and 8.
function final(
  book: BookDocument,
  student: Student,
  values: Map<string, Value>,
  t: Tree,
): { exact: Q | null; rounded: string | null; letter: string | null } {
  const root = t.ratios.get(book.tree.id) ?? null;
  let exact = root === null ? null : mul(root, HUNDRED);
  const all: { node: Node; optional: boolean }[] = [];
  const collect = (node: Node, optional: boolean): void => {
    all.push({ node, optional: optional || node.extraCredit === true });
    if (node.type === 'group') node.children.forEach((c) => collect(c, optional || node.extraCredit === true));
  };
  collect(book.tree, false);
  const openBelow = (node: Node): boolean =>
    node.type === 'item' ? node.counts !== false && values.get(node.id)!.open : node.children.some(openBelow);
  for (const hurdle of book.hurdles ?? []) {
    if (exact === null) break;
    const { node } = all.find((x) => x.node.id === hurdle.node)!;
    let reached: Q | null;
    if (node.type === 'item') {
      const v = values.get(node.id)!;
      if (v.open) continue;
      reached = v.skipped ? null : mul(div(v.earned, num(node.points)), HUNDRED);
    } else {
      if (openBelow(node)) continue;
      const ratio = t.ratios.get(node.id) ?? null;
      reached = ratio === null ? null : mul(ratio, HUNDRED);
    }
    if (reached !== null && cmp(reached, num(hurdle.atLeast)) < 0) exact = min(exact, num(hurdle.capAt));
  }
  const override = (book.overrides ?? []).find((o) => o.student === student.id);
  if (override?.percent !== undefined) exact = num(override.percent);
  if (exact === null) return { exact, rounded: null, letter: override?.letter ?? null };
  const { decimals, mode } = book.rounding;
  const unit = q(10n ** BigInt(decimals));
  const scaled = mul(exact, unit);
  let whole = scaled.n / scaled.d;
  const rest = sub(scaled, q(whole));
  const half = cmp(rest, q(1n, 2n));
  if (mode === 'half-up' && half >= 0) whole += 1n;
  if (mode === 'half-even' && (half > 0 || (half === 0 && whole % 2n === 1n))) whole += 1n;
  const digits = whole.toString().padStart(decimals + 1, '0');
  const rounded = decimals === 0 ? digits : `${digits.slice(0, -decimals)}.${digits.slice(-decimals)}`;
  let letter: string | null = override?.letter ?? null;
  const scale = book.scale == null ? null : book.rules!.scales![book.scale]!;
  if (letter === null && scale !== null) {
    const figure = scale.lookUp === 'exact' ? exact : div(q(whole), unit);
    const reachedBands = scale.bands.filter((b) => cmp(figure, num(b.from)) >= 0);
    letter = reachedBands.sort((a, b) => b.from - a.from)[0]!.label;
  }
  return { exact, rounded, letter };
}
