import type { Also, BookDocument, Entry, Group, Item, Node, Student } from '../book/document';
import {
  add,
  cmp,
  div,
  HUNDRED,
  max,
  min,
  mul,
  num,
  pct,
  q,
  roundTo,
  sub,
  sum,
  through,
  ZERO,
  type Q,
} from './reference-fraction';
import type { Value } from './reference-values';

/** Groups, read plainly: every set of drops is tried, everything is worked out anew wherever it is asked for (section 5). */
export interface Tree {
  ratios: Map<string, Q | null>;
  alsos: Map<string, Q | null>;
  dropped: Set<string>;
}
interface Child {
  node: Node;
  ratio: Q;
  share: Q;
  possible: Q;
  low: boolean;
  high: boolean;
}
interface Of {
  book: BookDocument;
  student: Student;
  values: Map<string, Value>;
  entry: (item: Item) => Entry | undefined;
  out: Tree;
}

export function tree(
  book: BookDocument,
  student: Student,
  values: Map<string, Value>,
  entry: (item: Item) => Entry | undefined,
): Tree {
  const out: Tree = { ratios: new Map(), alsos: new Map(), dropped: new Set() };
  const of = { book, student, values, entry, out };
  group(of, book.tree, new Set());
  // Those in groups that were never asked for too.
  for (const { node } of placesOf(book)) if (node.type === 'also') also(of, node);
  return out;
}

/** Every node with whether it, or a group above it, is extra credit, and its path of ids. */
export function placesOf(book: BookDocument): { node: Node; optional: boolean; path: string[] }[] {
  const all: { node: Node; optional: boolean; path: string[] }[] = [];
  const walk = (node: Node, optional: boolean, path: string[]): void => {
    const place = { node, optional: optional || node.extraCredit === true, path: [...path, node.id] };
    all.push(place);
    if (node.type === 'group') node.children.forEach((c) => walk(c, place.optional, place.path));
  };
  walk(book.tree, false, []);
  return all;
}

/** Section 5.3: named by the variant, below what is, or an also of what is. */
export function isLeftOut(book: BookDocument, student: Student, id: string): boolean {
  const named = student.variant === undefined ? [] : (book.variants![student.variant]!.leftOut ?? []);
  if (named.length === 0) return false;
  const places = placesOf(book);
  const { node, path } = places.find((p) => p.node.id === id)!;
  return path.some((at) => named.includes(at)) || (node.type === 'also' && isLeftOut(book, student, node.of));
}

const weight = ({ book, student }: Of, node: Node): Q =>
  num(
    (student.variant === undefined ? undefined : book.variants![student.variant]!.weights?.[node.id]) ??
      node.weight ??
      1,
  );

const childrenOf = (of: Of, g: Group): Node[] => g.children.filter((c) => !isLeftOut(of.book, of.student, c.id));

/** Items below that count and are neither extra credit nor under extra credit within the group. */
const plainItems = (of: Of, g: Group): Item[] =>
  childrenOf(of, g).flatMap((c) => {
    if (c.extraCredit || c.type === 'also') return [];
    return c.type === 'group' ? plainItems(of, c) : c.counts === false ? [] : [c];
  });

/** `zero`: the items that are taken as nothing. */
function group(of: Of, g: Group, zero: ReadonlySet<string>): { ratio: Q; possible: Q; staying: Child[] } | null {
  const optional = placesOf(of.book).find((p) => p.node === g)!.optional;
  const items = plainItems(of, g).map((i) => ({ id: i.id, v: of.values.get(i.id)! }));
  const more = (which: (v: Value) => boolean): Set<string> =>
    new Set([...zero, ...items.filter((i) => i.v.skipped && which(i.v)).map((i) => i.id)]);
  let here = zero;
  if (g.extraCredit && items.some(({ v }) => v.state === 'scored' || v.state === 'set'))
    here = more((v) => v.state !== 'excused');
  let result = groupOnce(of, g, here);
  if (!result.ownCounts && g.whenEmpty === 'zero' && !optional)
    result = groupOnce(of, g, more((v) => v.state === 'blank' || v.state === 'missing')); // prettier-ignore
  of.out.ratios.set(g.id, result.figures?.ratio ?? null);
  return result.figures;
}

function groupOnce(
  of: Of,
  g: Group,
  zero: ReadonlySet<string>,
): { ownCounts: boolean; figures: { ratio: Q; possible: Q; staying: Child[] } | null } {
  const counting: Child[] = [];
  const extras: { ratio: Q | null; earned: Q; share: Q }[] = [];
  for (const node of childrenOf(of, g)) {
    of.out.dropped.delete(node.id);
    const worth = worthOf(of, node, zero);
    if (worth === null) continue;
    const share = g.combine === 'points' ? worth.possible : g.combine === 'weights' ? weight(of, node) : q(1n);
    if (node.extraCredit) extras.push({ ...worth, share });
    else if (share.n > 0n)
      counting.push({ node, ratio: worth.ratio!, possible: worth.possible, share, ...mayDrop(of, node) });
  }
  const own = counting.filter((c) => c.node.type !== 'also');
  if (counting.length === 0) return { ownCounts: false, figures: null };
  const lowest = dropLowest(g, counting);
  let staying = counting.filter((c) => !lowest.includes(c));
  const highest = staying
    .filter((c) => c.high)
    .sort((a, b) => cmp(b.ratio, a.ratio) || counting.indexOf(a) - counting.indexOf(b))
    .slice(0, Math.min(g.drop?.highest ?? 0, staying.length - 1));
  staying = staying.filter((c) => !highest.includes(c));
  for (const c of [...lowest, ...highest]) of.out.dropped.add(c.node.id);
  let ratio = plain(staying);
  if (g.combine === 'median') {
    const sorted = staying.map((c) => c.ratio).sort(cmp);
    const n = sorted.length;
    ratio = div(add(sorted[Math.floor((n - 1) / 2)]!, sorted[Math.floor(n / 2)]!), q(2n));
  }
  if (g.combine === 'decaying')
    ratio = staying.slice(1).reduce((v, c) => add(mul(pct(g.newest!), c.ratio), mul(sub(q(1n), pct(g.newest!)), v)), staying[0]!.ratio); // prettier-ignore
  const shares = sum(staying.map((c) => c.share));
  let extra = ZERO;
  for (const x of extras)
    extra = add(extra, g.combine === 'points' ? div(x.earned, shares) : div(mul(x.ratio!, x.share), bonusBase(of, g)));
  if (g.extraAtMost !== undefined) extra = min(extra, pct(g.extraAtMost));
  ratio = add(ratio, extra);
  if (g.then) ratio = div(then(g.then, mul(ratio, HUNDRED)), HUNDRED);
  if (g.cap !== undefined && g.cap !== null) ratio = min(ratio, pct(g.cap));
  if (g.floor !== undefined && g.floor !== null) ratio = max(ratio, pct(g.floor));
  const list = g.combine === 'points' ? staying : own.length > 0 ? own : counting;
  return { ownCounts: own.length > 0, figures: { ratio, possible: sum(list.map((c) => c.possible)), staying } };
}

function worthOf(of: Of, node: Node, zero: ReadonlySet<string>): { ratio: Q | null; possible: Q; earned: Q } | null {
  if (node.type === 'item') {
    if (node.counts === false) return null;
    const v = of.values.get(node.id)!;
    if (v.skipped && !zero.has(node.id)) return null;
    const earned = v.skipped ? ZERO : v.earned;
    const possible = num(node.points);
    return { ratio: node.points === 0 ? null : div(earned, possible), possible, earned };
  }
  const inner = node.type === 'also' ? also(of, node) : group(of, node, zero);
  return inner && { ratio: inner.ratio, possible: inner.possible, earned: mul(inner.ratio, inner.possible) };
}

/** Section 5.2: worked out by itself, with nothing of it written down in the tree. */
function also(of: Of, a: Also): { ratio: Q; possible: Q } | null {
  const result = isLeftOut(of.book, of.student, a.id) ? null : alsoByItself(of, a);
  of.out.alsos.set(a.id, result?.ratio ?? null);
  return result;
}

function alsoByItself(of: Of, a: Also): { ratio: Q; possible: Q } | null {
  const { node } = placesOf(of.book).find((p) => p.node.id === a.of)!;
  const points = a.points === undefined ? null : num(a.points);
  const lined = (ratio: Q): Q => {
    if (a.through) return div(through(a.through, mul(ratio, HUNDRED)), HUNDRED);
    return a.from === undefined ? ratio : cmp(ratio, pct(a.from)) >= 0 ? q(1n) : ZERO;
  };
  if (node.type === 'item') {
    const v = of.values.get(node.id)!;
    return v.skipped ? null : { ratio: lined(div(v.earned, num(node.points))), possible: points ?? num(node.points) };
  }
  const apart: Tree = { ratios: new Map(), alsos: new Map(), dropped: new Set() };
  const inner = group({ ...of, out: apart }, node as Group, new Set());
  if (inner === null) return null;
  const possible = points ?? inner.possible;
  if (a.reaching === undefined) return { ratio: lined(inner.ratio), possible };
  const reach = inner.staying.filter((c) => cmp(c.ratio, pct(a.reaching!)) >= 0);
  return { ratio: q(BigInt(reach.length), BigInt(inner.staying.length)), possible };
}

function mayDrop(of: Of, node: Node): { low: boolean; high: boolean } {
  if (node.alwaysKept) return { low: false, high: false };
  if (node.type === 'group') return { low: true, high: true };
  const { node: counted } = node.type === 'also' ? placesOf(of.book).find((p) => p.node.id === node.of)! : { node };
  const isProtected = counted.type === 'item' && of.entry(counted)?.protected === true;
  if (node.type === 'also') return { low: node.standsIn === true || !isProtected, high: true };
  return { low: !isProtected, high: !isProtected };
}

function then(t: NonNullable<Group['then']>, percent: Q): Q {
  if (t.through) return through(t.through, percent);
  if (t.steps) return num(t.steps.filter(([from]) => cmp(percent, num(from)) >= 0).at(-1)?.[1] ?? 0);
  return mul(q(roundTo(div(percent, num(t.step!)), t.mode!)), num(t.step!));
}

const plain = (list: Child[]): Q => div(sum(list.map((c) => mul(c.ratio, c.share))), sum(list.map((c) => c.share)));

/** Every set of n that may be dropped is tried; the best plain ratio then settles which set it is. */
function dropLowest(g: Group, counting: Child[]): Child[] {
  const droppable = counting.filter((c) => c.low);
  const standing = counting.filter((c) => c.node.type === 'also' && c.node.standsIn).length;
  const free = counting.filter((c) => !c.node.alwaysKept && !(c.node.type === 'also' && c.node.standsIn)).length;
  const byRule = g.keepBest === undefined ? (g.drop?.lowest ?? 0) : Math.max(0, free - g.keepBest);
  const n = Math.min(byRule + standing, droppable.length, counting.length - 1);
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
function bonusBase(of: Of, g: Group): Q {
  const share = (c: Node): Q => (g.combine === 'weights' ? weight(of, c) : q(1n));
  const all = childrenOf(of, g).filter(
    (c) => !c.extraCredit && !(c.type === 'item' && c.counts === false) && share(c).n > 0n,
  );
  const others = all.filter((c) => !(c.type === 'also' && c.standsIn));
  const regular = others.length > 0 ? others : all;
  const N = regular.length;
  const S = sum(regular.map(share));
  const free = regular.filter((c) => !c.alwaysKept).length;
  const wanted = g.keepBest === undefined ? (g.drop?.lowest ?? 0) + (g.drop?.highest ?? 0) : free - g.keepBest;
  const d = Math.max(0, Math.min(wanted, free, N - 1));
  return mul(S, q(BigInt(N - d), BigInt(N)));
}
