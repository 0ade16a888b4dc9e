import type { BookDocument, Entry, Hurdle, Item, Node, ResultDocument, Student } from '../book/document';
import {
  cmp,
  digits,
  div,
  HUNDRED,
  min,
  mul,
  num,
  q,
  roundTo,
  sub,
  text,
  through,
  ZERO,
  type Q,
} from './reference-fraction';
import { isLeftOut, placesOf, tree, type Tree } from './reference-groups';
import { bankUnits, valueOf, type Path, type Value } from './reference-values';

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
  const values = valuesOf(book, student, entry);
  const now = tree(book, student, values, entry);
  const end = (full: boolean): ReturnType<typeof final> => {
    const closed = new Map<string, Value>();
    for (const { node } of placesOf(book)) {
      if (node.type !== 'item') continue;
      const v = values.get(node.id)!;
      const earned = full ? num(node.points) : ZERO;
      closed.set(node.id, v.open ? { skipped: false, earned, state: v.state, open: false } : v);
    }
    const wasOpen = (id: string): boolean => values.get(id)!.open;
    return final(book, student, closed, tree(book, student, closed, entry), (id) => (wasOpen(id) ? full : null));
  };
  const is = final(book, student, values, now, () => null);
  const percent = (of: Map<string, Q | null>, id: string): string | null => {
    const ratio = of.get(id) ?? null;
    return ratio === null ? null : text(mul(ratio, HUNDRED));
  };
  const items: ResultDocument['students'][number]['items'] = [];
  const groups: ResultDocument['students'][number]['groups'] = [];
  const alsos: { id: string; exact: string | null; dropped: boolean }[] = [];
  for (const { node } of placesOf(book)) {
    if (node.type === 'item') {
      const v = values.get(node.id)!;
      const earned = v.skipped ? null : text(v.earned);
      items.push({ id: node.id, state: v.state as 'set', earned, dropped: now.dropped.has(node.id) });
    } else if (node.type === 'group') groups.push({ id: node.id, exact: percent(now.ratios, node.id) });
    else alsos.push({ id: node.id, exact: percent(now.alsos, node.id), dropped: now.dropped.has(node.id) });
  }
  return {
    id: student.id,
    percent: is.rounded,
    exact: is.exact === null ? null : text(is.exact),
    letter: is.letter,
    low: end(false).rounded,
    high: end(true).rounded,
    items,
    groups,
    ...(alsos.length > 0 ? { alsos } : {}),
    ...(book.shown ? { shown: is.shown } : {}),
  };
}

// Sections 2 to 4.
function valuesOf(book: BookDocument, student: Student, entry: (item: Item) => Entry | undefined): Map<string, Value> {
  const leaves: { item: Item; path: Path }[] = [];
  const counts = (book.hurdles ?? []).filter((h) => h.over !== undefined).map((h) => h.node);
  walk(book.tree, { late: book.late ?? null, blank: book.blank, optional: false }, (item, rules) => {
    const facts = { isCount: counts.includes(item.id), isLeftOut: isLeftOut(book, student, item.id) };
    leaves.push({ item, path: { ...rules, ...facts } });
  });
  const values = new Map<string, Value>();
  for (const { item, path } of leaves) {
    const alike = leaves.filter((l) => l.path.late === path.late && !l.path.isLeftOut).map((l) => l.item);
    const bank = path.late === null ? 0n : (bankUnits(book, student, path.late, alike, entry).get(item.id) ?? 0n);
    values.set(item.id, valueOf(book, student, item, entry(item), path, bank));
  }
  return values;
}

type Rules = Pick<Path, 'late' | 'blank' | 'optional'>;

function walk(node: Node, above: Rules, then: (item: Item, path: Rules) => void): void {
  if (node.type === 'also') return;
  const path = {
    late: node.late === undefined ? above.late : node.late,
    blank: node.blank ?? above.blank,
    optional: above.optional || node.extraCredit === true,
  };
  if (node.type === 'item') then(node, path);
  else node.children.forEach((c) => walk(c, path, then));
}

/** Sections 6 and 8. `taken`: whether an item that was open is taken as full; null: it was not open, or is not taken. */
function final(
  book: BookDocument,
  student: Student,
  values: Map<string, Value>,
  t: Tree,
  taken: (id: string) => boolean | null,
): { exact: Q | null; rounded: string | null; letter: string | null; shown: string | null } {
  const root = t.ratios.get(book.tree.id) ?? null;
  const places = placesOf(book);
  const nodeOf = (id: string): Node => places.find((p) => p.node.id === id)!.node;
  const isOptional = (id: string): boolean => places.find((p) => p.node.id === id)!.optional;
  const isOpen = (node: Node): boolean => {
    if (node.type === 'item') return values.get(node.id)!.open;
    if (node.type === 'also') return isOpen(nodeOf(node.of));
    return node.children.some((c) => {
      if (isLeftOut(book, student, c.id)) return false;
      if (c.type === 'item') return c.counts !== false && isOpen(c);
      return c.type === 'also' ? !isOptional(c.id) && isOpen(c) : isOpen(c);
    });
  };
  const reached = (id: string): Q | null => {
    const node = nodeOf(id);
    if (isOpen(node)) return null;
    if (node.type === 'item') {
      const v = values.get(id)!;
      return v.skipped ? null : mul(div(v.earned, num(node.points)), HUNDRED);
    }
    const ratio = (node.type === 'group' ? t.ratios : t.alsos).get(id) ?? null;
    return ratio === null ? null : mul(ratio, HUNDRED);
  };
  const override = (book.overrides ?? []).find((o) => o.student === student.id);
  const variant = student.variant === undefined ? undefined : book.variants![student.variant]!;
  const scaleName = variant?.scale === undefined ? (book.scale ?? null) : variant.scale;
  const scale = scaleName === null ? null : book.rules!.scales![scaleName]!;
  const bands = scale === null ? [] : [...scale.bands].sort((a, b) => b.from - a.from);
  const { decimals, mode } = book.rounding;
  const unit = q(10n ** BigInt(decimals));
  const hurdles = (book.hurdles ?? []).filter((h) => {
    const cap = typeof h.capAt === 'object' ? h.capAt.node : undefined;
    return [h.node, ...(cap === undefined ? [] : [cap])].every((id) => !isLeftOut(book, student, id));
  });
  const fails = (h: Hurdle): boolean => {
    if (h.atLeast === 'handed-in') {
      const { state } = values.get(h.node)!;
      const full = taken(h.node);
      if (full !== null) return state !== 'pending' && !full;
      return state === 'missing' || (state === 'awaiting' && book.closing === true);
    }
    const r = reached(h.node);
    return r !== null && cmp(r, num(h.atLeast!)) < 0;
  };
  const times = (h: Hurdle): bigint => {
    const v = values.get(h.node)!;
    if (v.skipped || cmp(v.earned, num(h.over!)) <= 0) return 0n;
    const n = div(sub(v.earned, num(h.over!)), num(h.each!));
    const up = (n.n + n.d - 1n) / n.d;
    return h.most !== undefined && up > BigInt(h.most) ? BigInt(h.most) : up;
  };
  let exact = root === null ? null : mul(root, HUNDRED);
  if (exact !== null) {
    for (const h of hurdles) {
      if (h.capAt === undefined || !fails(h)) continue;
      let cap: Q | null;
      if (typeof h.capAt === 'number') cap = num(h.capAt);
      else if (h.capAt.node !== undefined) cap = reached(h.capAt.node);
      else {
        const { letter } = h.capAt;
        const above = bands.findIndex((b) => b.label === letter) - 1;
        cap = above < 0 ? null : greatestBelow(num(bands[above]!.from), unit);
      }
      if (cap !== null) exact = min(exact, cap);
    }
    for (const h of hurdles)
      if (h.takes?.percent !== undefined) exact = sub(exact, mul(q(times(h)), num(h.takes.percent)));
    if (exact.n < 0n) exact = ZERO;
  }
  if (override?.percent !== undefined) exact = num(override.percent);
  if (exact === null) return { exact, rounded: null, letter: override?.letter ?? null, shown: null };
  const whole = roundTo(mul(exact, unit), mode);
  const rounded = digits(whole, decimals);
  let letter: string | null = null;
  if (scale !== null) {
    const figure = scale.lookUp === 'exact' ? exact : div(q(whole), unit);
    let at = bands.findIndex((b) => cmp(figure, num(b.from)) >= 0);
    if (override?.percent === undefined)
      for (const h of hurdles) if (h.takes?.letters !== undefined) at += Number(times(h)) * h.takes.letters;
    letter = bands[Math.min(at, bands.length - 1)]!.label;
  }
  if (override?.percent === undefined)
    letter = hurdles.find((h) => h.letter !== undefined && fails(h))?.letter ?? letter;
  return {
    exact,
    rounded,
    letter: override?.letter ?? letter,
    shown: book.shown ? shownText(book.shown, exact) : null,
  };
}

/** The greatest figure with the book's decimals below a bound. */
function greatestBelow(bound: Q, unit: Q): Q {
  const scaled = mul(bound, unit);
  const whole = scaled.n / scaled.d;
  return div(q(scaled.d === 1n ? whole - 1n : whole), unit);
}

function shownText(shown: NonNullable<BookDocument['shown']>, percent: Q): string {
  const y = through(shown.through, percent);
  const unit = q(10n ** BigInt(shown.decimals));
  if (shown.step === undefined) return digits(roundTo(mul(y, unit), shown.mode), shown.decimals);
  const multiple = mul(q(roundTo(div(y, num(shown.step)), shown.mode)), num(shown.step));
  return digits(mul(multiple, unit).n, shown.decimals);
}
