import type { BookDocument, Entry, Group, Item, Node } from '../book/document';
import { add, cmp, div, max, min, mul, num, pct, q, sub, sum, ZERO, type Q } from './reference-fraction';
import type { Value } from './reference-values';

/** Groups, read plainly: every set of drops is tried (contract, section 5). */
// Section 5.
export interface Tree {
  ratios: Map<string, Q | null>;
  dropped: Set<string>;
}
type Child = { node: Node; ratio: Q; share: Q; possible: Q; droppable: boolean };

export function tree(book: BookDocument, values: Map<string, Value>, entry: (item: Item) => Entry | undefined): Tree {
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
