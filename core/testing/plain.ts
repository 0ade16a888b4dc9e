import { DateTime } from 'luxon';
import type { BookDocument, Entry, Group, Item, Node, ResultDocument, Student } from '../book/document';

/**
 * The contract once more, read plainly: fractions of big integers alone, every set of drops tried, days walked one by
 * one, nothing kept from one step to the next. Slow on purpose. It shares no code with the calculation that it checks;
 * local days are luxon's.
 */
type Q = { n: bigint; d: bigint };

const gcd = (a: bigint, b: bigint): bigint => (b === 0n ? a : gcd(b, a % b));
function q(n: bigint, d: bigint = 1n): Q {
  const sign = d < 0n ? -1n : 1n;
  const g = gcd(n < 0n ? -n : n, d < 0n ? -d : d) || 1n;
  return { n: (sign * n) / g, d: (sign * d) / g };
}
const add = (a: Q, b: Q): Q => q(a.n * b.d + b.n * a.d, a.d * b.d);
const sub = (a: Q, b: Q): Q => q(a.n * b.d - b.n * a.d, a.d * b.d);
const mul = (a: Q, b: Q): Q => q(a.n * b.n, a.d * b.d);
const div = (a: Q, b: Q): Q => q(a.n * b.d, a.d * b.n);
const cmp = (a: Q, b: Q): number => {
  const l = a.n * b.d;
  const r = b.n * a.d;
  return l < r ? -1 : l > r ? 1 : 0;
};
const max = (a: Q, b: Q): Q => (cmp(a, b) >= 0 ? a : b);
const min = (a: Q, b: Q): Q => (cmp(a, b) <= 0 ? a : b);
const sum = (list: Q[]): Q => list.reduce(add, q(0n));
const ZERO = q(0n);
const HUNDRED = q(100n);

/** The shortest decimal that reads back as the number. */
function num(x: number): Q {
  const m = /^(-?)(\d+)(?:\.(\d+))?(?:e([+-]\d+))?$/.exec(String(x))!;
  const decimals = m[3] ?? '';
  const exponent = BigInt(m[4] ?? 0) - BigInt(decimals.length);
  const digits = BigInt(`${m[1]}${m[2]}${decimals}`);
  return exponent >= 0n ? q(digits * 10n ** exponent) : q(digits, 10n ** -exponent);
}
const pct = (x: number): Q => div(num(x), HUNDRED);
const text = (a: Q): string => (a.d === 1n ? `${a.n}` : `${a.n}/${a.d}`);

/** Milliseconds as a fraction: hours with decimals stay exact. */
const moments = new Map<string, Q>();
const moment = (s: string): Q => {
  let at = moments.get(s);
  if (!at) moments.set(s, (at = q(BigInt(DateTime.fromISO(s.toUpperCase(), { setZone: true }).toMillis()))));
  return at;
};
const hours = (h: number): Q => mul(num(h), q(3_600_000n));

interface Path {
  late: string | null;
  blank: string;
  optional: boolean;
}
type Skip = { skipped: true; state: string; open: boolean };
type Earned = { skipped: false; earned: Q; state: string; open: boolean };
type Value = Skip | Earned;

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

// Section 2.
function valueOf(book: BookDocument, student: Student, item: Item, entry: Entry | undefined, path: Path): Value {
  const skipped = (state: string): Value => ({
    skipped: true,
    state,
    open: ['pending', 'awaiting', 'blank'].includes(state) && !path.optional,
  });
  const earned = (state: string, points: Q): Value => ({
    skipped: false,
    earned: points,
    state,
    open: state === 'blank' && !path.optional,
  });
  const section = student.section === undefined ? undefined : item.sectionDates?.[student.section];
  const extra = hours(student.extraTimeHours ?? 0);
  const allowance = mul(q(BigInt(entry?.lateAllowances ?? 0)), hours(book.lateAllowanceHours ?? 24));
  const date = (own: string | undefined, of: string | undefined): Q | null =>
    own !== undefined ? add(moment(own), allowance) : of !== undefined ? add(add(moment(of), extra), allowance) : null;
  const due = date(entry?.dueAt, section?.due ?? item.due);
  let closes = date(entry?.closesAt, section?.closes ?? item.closes);
  if (closes !== null && due !== null) closes = max(closes, due);
  const rule = book.rules!.blank![path.blank]!;
  const limit = rule.missingAfter === 'closes' ? (closes ?? due) : due;
  const past = book.closing === true || (limit !== null && cmp(moment(book.asOf), limit) > 0);
  const afterDue = (): Value =>
    path.optional || rule.afterDue === 'skip'
      ? skipped('missing')
      : earned('missing', mul(pct(rule.afterDue.percent), num(item.points)));
  const attempts = entry?.attempts ?? [];
  if (entry?.state === 'excused') return skipped('excused');
  if (entry?.set !== undefined) return earned('set', num(entry.set));
  const scored = attempts.flatMap((a, i) =>
    a.score !== undefined || a.mark !== undefined ? [attempt(book, item, a, i + 1, due, path.late)] : [],
  );
  if (scored.length > 0) {
    const use = item.attempts?.use ?? 'best';
    const pick =
      use === 'first'
        ? scored[0]!
        : use === 'latest'
          ? scored[scored.length - 1]!
          : use === 'best'
            ? scored.reduce(max)
            : div(sum(scored), q(BigInt(scored.length)));
    return earned('scored', pick);
  }
  if (attempts.length > 0) return skipped('pending');
  if (entry?.state === 'missing') return afterDue();
  if (entry?.state === 'awaiting') return skipped('awaiting');
  if (past) return afterDue();
  return rule.beforeDue === 'skip' || path.optional ? skipped('blank') : earned('blank', ZERO);
}

// Section 4.
function attempt(
  book: BookDocument,
  item: Item,
  a: NonNullable<Entry['attempts']>[number],
  number: number,
  due: Q | null,
  lateName: string | null,
): Q {
  const points = num(item.points);
  let x =
    a.score !== undefined
      ? num(a.score)
      : mul(pct(book.rules!.marks![item.marks!]!.find((m) => m.label === a.mark)!.percent), points);
  const curve = item.curve;
  if (curve?.kind === 'add') x = add(x, num(curve.points));
  if (curve?.kind === 'top') x = div(mul(x, points), num(curve.at));
  if (curve?.kind === 'line') {
    const line = curve.through.map(([p, r]) => [num(p), num(r)] as const);
    const after = line.findIndex(([p]) => cmp(x, p) <= 0);
    if (after === -1) x = line[line.length - 1]![1];
    else if (after === 0) x = line[0]![1];
    else {
      const [x1, y1] = line[after - 1]!;
      const [x2, y2] = line[after]!;
      x = add(y1, mul(sub(x, x1), div(sub(y2, y1), sub(x2, x1))));
    }
  }
  x = max(x, ZERO);
  if (lateName !== null) {
    const rule = book.rules!.late![lateName]!;
    const d = deduction(book, rule, a, due);
    if (d !== null) {
      const off = mul(div(d, HUNDRED), (rule.of ?? 'possible') === 'possible' ? points : x);
      x = max(sub(x, off), min(x, mul(pct(rule.floor ?? 0), points)));
    }
  }
  if (number >= 2 && item.attempts?.retakeCap !== undefined) x = min(x, mul(pct(item.attempts.retakeCap), points));
  return x;
}

// Section 4.1: d in percent, or null where the attempt is not late.
function deduction(
  book: BookDocument,
  rule: NonNullable<NonNullable<BookDocument['rules']>['late']>[string],
  a: NonNullable<Entry['attempts']>[number],
  due: Q | null,
): Q | null {
  if (a.onTime) return null;
  const most = num(rule.max ?? 100);
  const step = (h: Q): Q => num(rule.steps!.find((s) => cmp(h, hours(s.hours)) <= 0)?.deduct ?? rule.after!);
  if (a.lateUnits !== undefined) {
    if (a.lateUnits === 0) return null;
    const units = q(BigInt(a.lateUnits));
    return min(most, rule.steps ? step(mul(units, hours(24))) : mul(num(rule.deduct!), units));
  }
  if (due === null || a.receivedAt === undefined) return null;
  const received = moment(a.receivedAt);
  if (cmp(received, due) <= 0) return null;
  // Due dates are whole milliseconds: hours have at most four decimals.
  const counted = q(countedMillis(book.timeZone, due.n, received.n, rule.skipDays ?? [], rule.skipDates ?? []));
  if (cmp(counted, mul(num(rule.graceMinutes ?? 0), q(60_000n))) <= 0) return null;
  if (rule.steps) return min(most, step(counted));
  const unit = rule.unit === 'hour' ? 3_600_000n : 86_400_000n;
  const units = (counted.n + unit - 1n) / unit;
  return min(most, mul(num(rule.deduct!), q(units)));
}

function countedMillis(zone: string, from: bigint, to: bigint, skipDays: number[], skipDates: string[]): bigint {
  let counted = to - from;
  let day = DateTime.fromMillis(Number(from), { zone }).startOf('day').minus({ days: 2 });
  while (BigInt(day.toMillis()) < to) {
    const next = day.plus({ days: 1 }).startOf('day');
    if (skipDays.includes(day.weekday) || skipDates.includes(day.toISODate()!)) {
      const a = BigInt(day.toMillis()) > from ? BigInt(day.toMillis()) : from;
      const b = BigInt(next.toMillis()) < to ? BigInt(next.toMillis()) : to;
      if (b > a) counted -= b - a;
    }
    day = next;
  }
  return counted;
}

// Section 5.
interface Tree {
  ratios: Map<string, Q | null>;
  dropped: Set<string>;
}
type Child = { node: Node; ratio: Q; share: Q; possible: Q; droppable: boolean };

function tree(book: BookDocument, values: Map<string, Value>, entry: (item: Item) => Entry | undefined): Tree {
  const out: Tree = { ratios: new Map(), dropped: new Set() };
  group(book.tree, values, entry, false, false, out);
  return out;
}

function group(
  g: Group,
  values: Map<string, Value>,
  entry: (item: Item) => Entry | undefined,
  underExtra: boolean,
  fill: boolean,
  out: Tree,
): { ratio: Q; possible: Q } | null {
  const optional = underExtra || g.extraCredit === true;
  let result = groupOnce(g, values, entry, optional, fill, out);
  if (result === null && g.whenEmpty === 'zero' && !optional && !fill)
    result = groupOnce(g, values, entry, optional, true, out);
  out.ratios.set(g.id, result?.ratio ?? null);
  return result;
}

function groupOnce(
  g: Group,
  values: Map<string, Value>,
  entry: (item: Item) => Entry | undefined,
  optional: boolean,
  fill: boolean,
  out: Tree,
): { ratio: Q; possible: Q } | null {
  const counting: Child[] = [];
  const extras: { earned: Q; ratio: Q | null; share: Q }[] = [];
  const shareOf = (node: Node, possible: Q): Q =>
    g.combine === 'points' ? possible : g.combine === 'equal' ? q(1n) : num(node.weight ?? 1);
  for (const node of g.children) {
    if (node.type === 'item') {
      out.dropped.delete(node.id);
      if (node.counts === false) continue;
      const v = values.get(node.id)!;
      const fillable = fill && !optional && !node.extraCredit && (v.state === 'blank' || v.state === 'missing');
      if (v.skipped && !fillable) continue;
      const earned = v.skipped ? ZERO : v.earned;
      const points = num(node.points);
      const share = shareOf(node, points);
      if (node.extraCredit) extras.push({ earned, ratio: node.points === 0 ? null : div(earned, points), share });
      else if (share.n > 0n)
        counting.push({
          node,
          ratio: div(earned, points),
          share,
          possible: points,
          droppable: !node.alwaysKept && entry(node)?.protected !== true,
        });
    } else {
      const inner = group(node, values, entry, optional, fill, out);
      if (inner === null) continue;
      const share = shareOf(node, inner.possible);
      if (node.extraCredit) extras.push({ earned: mul(inner.ratio, inner.possible), ratio: inner.ratio, share });
      else if (share.n > 0n) counting.push({ node, ...inner, share, droppable: !node.alwaysKept });
    }
  }
  if (counting.length === 0) return null;
  const lowest = dropLowest(g, counting);
  let staying = counting.filter((c) => !lowest.includes(c));
  const highest = staying
    .filter((c) => c.droppable)
    .sort((a, b) => cmp(b.ratio, a.ratio) || counting.indexOf(a) - counting.indexOf(b))
    .slice(0, Math.min(g.drop?.highest ?? 0, staying.length - 1));
  staying = staying.filter((c) => !highest.includes(c));
  for (const c of [...lowest, ...highest]) if (c.node.type === 'item') out.dropped.add(c.node.id);
  let ratio = plain(staying);
  const shares = sum(staying.map((c) => c.share));
  for (const x of extras)
    ratio = add(ratio, g.combine === 'points' ? div(x.earned, shares) : div(mul(x.ratio!, x.share), bonusBase(g)));
  if (g.cap !== undefined && g.cap !== null) ratio = min(ratio, pct(g.cap));
  if (g.floor !== undefined && g.floor !== null) ratio = max(ratio, pct(g.floor));
  return { ratio, possible: sum((g.combine === 'points' ? staying : counting).map((c) => c.possible)) };
}

const plain = (list: Child[]): Q => div(sum(list.map((c) => mul(c.ratio, c.share))), sum(list.map((c) => c.share)));

/** Every set of n that may be dropped is tried; the best plain ratio then settles which set it is. */
function dropLowest(g: Group, counting: Child[]): Child[] {
  const droppable = counting.filter((c) => c.droppable);
  const wanted = g.keepBest === undefined ? (g.drop?.lowest ?? 0) : Math.max(0, droppable.length - g.keepBest);
  const n = Math.min(wanted, droppable.length, counting.length - 1);
  if (n === 0) return [];
  let best: Q | null = null;
  const sets = (from: number, picked: Child[]): void => {
    if (picked.length === n) {
      const r = plain(counting.filter((c) => !picked.includes(c)));
      if (best === null || cmp(r, best) > 0) best = r;
      return;
    }
    for (let i = from; i < droppable.length; i++) sets(i + 1, [...picked, droppable[i]!]);
  };
  sets(0, []);
  const r = best!;
  const worth = (c: Child): Q => sub(mul(c.ratio, c.share), mul(r, c.share));
  return [...droppable]
    .sort((a, b) => cmp(worth(a), worth(b)) || counting.indexOf(a) - counting.indexOf(b))
    .slice(0, n);
}

/** W of step 3. */
function bonusBase(g: Group): Q {
  const regular = g.children.filter(
    (c) =>
      !c.extraCredit && !(c.type === 'item' && c.counts === false) && (g.combine === 'equal' || (c.weight ?? 1) > 0),
  );
  const N = regular.length;
  const S = sum(regular.map((c) => (g.combine === 'equal' ? q(1n) : num(c.weight ?? 1))));
  const free = regular.filter((c) => !c.alwaysKept).length;
  const wanted = g.keepBest === undefined ? (g.drop?.lowest ?? 0) + (g.drop?.highest ?? 0) : free - g.keepBest;
  const d = Math.max(0, Math.min(wanted, free, N - 1));
  return mul(S, q(BigInt(N - d), BigInt(N)));
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
