import type { BookDocument, Hurdle, Variant } from '../../book/document';
import { flatten, type FlatTree } from '../../estimate/flat-tree';
import { fraction, fromNumber, multiply, type Fraction } from '../../exact/fraction';
import type { CompiledAlso, CompiledBook, CompiledGroup, CompiledItem, CompiledNode } from './compiled';
import { compileHurdles, type CompiledHurdles } from '../hurdles';
import { compileScale, type CompiledScale } from '../letters';

/** The tree as some students have it: other weights, nodes left out, another scale (contract, section 5.3). */
export interface CompiledVariant {
  /** Null: the book as it stands. */
  name: string | null;
  root: CompiledGroup;
  weights: Map<CompiledNode, Fraction>;
  leftOut: Set<CompiledNode>;
  /** W of section 5.1, step 3, by group number; null in a `points` group or where no child could ever count. */
  bonusBase: (Fraction | null)[];
  hurdles: CompiledHurdles;
  scale: CompiledScale | null;
  flat: FlatTree;
  /** As version 1 of the calculation had it: for telling whom the repairs move (repairs.ts). */
  isBeforeRepairs?: true;
}

/** What variants are made of: the tree compiled, and what the document says beside it. */
export interface TreeParts {
  root: CompiledGroup;
  items: CompiledItem[];
  groups: CompiledGroup[];
  alsos: CompiledAlso[];
  nodes: Map<string, CompiledNode>;
}

export function compileVariants(book: Omit<BookDocument, 'students' | 'entries'>, tree: TreeParts): CompiledVariant[] {
  const named = Object.entries(book.variants ?? {}).filter(([name]) => name !== 'info');
  return [compileVariant(book, tree, null, {}), ...named.map(([name, v]) => compileVariant(book, tree, name, v))];
}

function compileVariant(
  book: Omit<BookDocument, 'students' | 'entries'>,
  tree: TreeParts,
  name: string | null,
  { weights = {}, leftOut = [], scale = book.scale }: Variant,
): CompiledVariant {
  const { nodes, root, items, groups, alsos } = tree;
  const out = nodesLeftOut(tree, leftOut.map((id) => nodes.get(id)!)); // prettier-ignore
  const remains = ({ node, capAt }: Hurdle): boolean =>
    !out.has(nodes.get(node)!) &&
    !(typeof capAt === 'object' && capAt.node !== undefined && out.has(nodes.get(capAt.node)!));
  const compiledScale = scale == null ? null : compileScale(book.rules!.scales![scale]!);
  const hurdles = out.size === 0 ? (book.hurdles ?? []) : (book.hurdles ?? []).filter(remains);
  const variant: CompiledVariant = {
    name,
    root,
    weights: new Map(
      Object.entries(weights).flatMap(([id, w]) => (id === 'info' ? [] : [[nodes.get(id)!, fromNumber(w)] as const])),
    ),
    leftOut: out,
    bonusBase: [],
    hurdles: compileHurdles(hurdles, nodes, compiledScale, book.rounding.decimals),
    scale: compiledScale,
    flat: null!,
  };
  variant.bonusBase = groups.map((g) => bonusBase(variant, g));
  variant.flat = flatten(items, groups, alsos, variant);
  return variant;
}

/** With all that is below, and the alsos that count one of them. */
function nodesLeftOut(tree: TreeParts, named: readonly CompiledNode[]): Set<CompiledNode> {
  const out = new Set<CompiledNode>();
  const add = (node: CompiledNode): void => {
    out.add(node);
    if (node.type === 'group') node.children.forEach(add);
  };
  named.forEach(add);
  if (out.size > 0) for (const also of tree.alsos) if (out.has(also.of)) out.add(also);
  return out;
}

export const variantAt = (compiled: CompiledBook, s: number): CompiledVariant =>
  compiled.variants[compiled.variantOf[s]!]!;

export const weightOf = (variant: CompiledVariant, node: CompiledNode): Fraction =>
  variant.weights.size === 0 ? node.weight : (variant.weights.get(node) ?? node.weight);

/** The parts of W (section 5.1, step 3): S, the sum of the shares, and how many of the N children stay in the end. */
export function bonusParts(
  variant: CompiledVariant,
  group: CompiledGroup,
): { sum: Fraction; kept: number; all: number } {
  const { combine, drop, keepBest } = group.source;
  const isWeighted = combine === 'weights';
  const share = (c: CompiledNode): Fraction => (isWeighted ? weightOf(variant, c) : fraction(1));
  const candidates = group.children.filter(
    (c) => !c.extraCredit && !variant.leftOut.has(c) && share(c).n !== 0 && (c.type !== 'item' || c.counts),
  );
  const own = candidates.filter((c) => c.type !== 'also' || !c.standsIn);
  const regular = own.length > 0 ? own : candidates;
  const N = regular.length;
  const droppable = regular.filter((c) => !c.alwaysKept).length;
  const wanted = keepBest === undefined ? (drop?.lowest ?? 0) + (drop?.highest ?? 0) : droppable - keepBest;
  const d = Math.max(0, Math.min(wanted, droppable, N - 1));
  if (!isWeighted) return { sum: fraction(N), kept: N - d, all: N };
  // Weights have at most four decimals and are at most 10^9, so each is a whole number of ten-thousandths.
  const sum = regular.reduce((total, c) => total + (BigInt(share(c).n) * 10_000n) / BigInt(share(c).d), 0n);
  return { sum: fraction(sum, 10_000n), kept: N - d, all: N };
}

/** W: what an extra-credit share is measured against in all groups but `points`. */
function bonusBase(variant: CompiledVariant, group: CompiledGroup): Fraction | null {
  if (group.source.combine === 'points' || !group.children.some((c) => c.extraCredit)) return null;
  const { sum, kept, all } = bonusParts(variant, group);
  return all === 0 ? null : multiply(sum, fraction(kept, all));
}
