import type { BookDocument } from '../book/document';
import type { CompiledBook, CompiledGroup, CompiledNode } from '../calculation/compiled/compile';
import { hangsOnPoints } from '../working/explain-group';
import { pointersOf } from './places';
import { policyWarnings } from './policy-warnings';
import type { Warning } from './warnings';

const drops = (g: CompiledGroup): boolean =>
  (g.source.drop?.lowest ?? 0) + (g.source.drop?.highest ?? 0) > 0 || g.source.keepBest !== undefined;
const canCount = (c: CompiledNode, g: CompiledGroup): boolean =>
  !c.extraCredit && (c.type !== 'item' || c.counts) && (g.source.combine !== 'weights' || (c.source.weight ?? 1) > 0);

/** Groups whose drops, weights or members do not do what they seem to. */
export function groupWarnings(book: BookDocument, compiled: CompiledBook): Warning[] {
  const places = pointersOf(book.tree);
  return compiled.groups.flatMap((g) => [
    ...memberWarnings(g, places.get(g.id)!),
    ...policyWarnings(g, places),
    ...dropWarnings(g, places.get(g.id)!),
    ...weightWarnings(g, places.get(g.id)!),
    ...g.children.flatMap((c) => (c.type === 'item' ? curveWarnings(c, places.get(c.id)!) : [])),
  ]);
}

function memberWarnings(g: CompiledGroup, at: string): Warning[] {
  const any = g.children.length > 0;
  if (!any || g.children.some((c) => !c.extraCredit)) return [];
  return [
    {
      kind: 'only-extra-credit',
      at,
      says: 'There is nothing but extra credit in this group. With nothing to add it to, the group is left out, and the extra credit with it.',
    },
  ];
}

function dropWarnings(g: CompiledGroup, at: string): Warning[] {
  if (!drops(g)) return [];
  const out: Warning[] = [];
  const { drop, keepBest, combine } = g.source;
  const counting = g.children.filter((c) => canCount(c, g) && !(c.type === 'also' && c.standsIn));
  const free = counting.filter((c) => !c.alwaysKept);
  const wanted = (drop?.lowest ?? 0) + (drop?.highest ?? 0);
  const where = keepBest === undefined ? `${at}/drop` : `${at}/keepBest`;
  if (counting.length > 0 && free.length === 0)
    out.push({ kind: 'drop-void', at: where, says: 'Nothing here can be dropped: all of it is always kept.' });
  else if (keepBest === undefined && wanted >= counting.length)
    out.push({
      kind: 'drops-too-many',
      at: where,
      says: `${wanted} are to be dropped, but there can be only ${counting.length} that count. One always stays, whatever the rule says.`,
    });
  else if (keepBest === undefined && wanted > free.length)
    out.push({
      kind: 'drop-void',
      at: where,
      says: `${wanted} are to be dropped, but only ${free.length} can be: the others are always kept.`,
    });
  else if (keepBest !== undefined && keepBest >= free.length)
    out.push({
      kind: 'drop-void',
      at: where,
      says: `The best ${keepBest} are kept, and there are only ${free.length} that could be dropped: nothing ever is.`,
    });
  if (combine === 'points' && hangsOnPoints(g))
    out.push({
      kind: 'drop-hangs-on-points',
      at: where,
      says: 'What is dropped takes its points out of this group, and its share further up hangs on those points: it counts less for a student whose large piece is dropped. A higher score can then lower a standing.',
    });
  const unequal = new Set(free.map((c) => shareText(c, g))).size > 1;
  if (keepBest !== undefined && (combine === 'points' || combine === 'weights') && unequal && keepBest < free.length)
    out.push({
      kind: 'keeps-best-of-unlike',
      at: where,
      says: `The best ${keepBest} are kept of pieces that weigh differently: kept is what leaves the highest percentage, so a large piece may go rather than a smaller one with a lower mark.`,
    });
  if ((drop?.highest ?? 0) > 0 && (combine === 'points' || combine === 'weights') && unequal)
    out.push({
      kind: 'score-may-lower',
      at: where,
      says: 'The highest by percentage is dropped from pieces of different size: a higher score can become the one that is dropped, in place of a smaller piece, and lower the standing.',
    });
  if (combine === 'points' && g.children.some((c) => c.extraCredit))
    out.push({
      kind: 'score-may-lower',
      at: where,
      says: 'Extra credit is measured against the points that stay: a higher score can change what is dropped, so that more points stay and the extra credit adds less.',
    });
  return out;
}

const shareText = (c: CompiledNode, g: CompiledGroup): string =>
  g.source.combine === 'weights' ? String(c.source.weight ?? 1) : c.type === 'item' ? String(c.source.points) : c.id;

function weightWarnings(g: CompiledGroup, at: string): Warning[] {
  if (g.source.combine !== 'weights') return [];
  const counting = g.children.filter((c) => !c.extraCredit && (c.type !== 'item' || c.counts));
  if (counting.length === 0) return [];
  // Weights have at most four decimals: summed as whole ten-thousandths nothing is lost.
  const sum = counting.reduce((n, c) => n + Math.round((c.source.weight ?? 1) * 10_000), 0) / 10_000;
  if (sum === 0)
    return [{ kind: 'weights-all-zero', at, says: 'All weights here are 0: nothing in this group counts.' }];
  if (g.parent !== null || sum === 100) return [];
  const weight = counting.map((c) => c.source.weight ?? 1).find((w) => w > 0)!;
  return [
    {
      kind: 'weights-not-100',
      at,
      says: `The weights sum to ${sum}, not 100. Each counts as its part of ${sum}: a weight of ${weight} is ${Number(((weight / sum) * 100).toFixed(2))} %.`,
    },
  ];
}

function curveWarnings(item: Extract<CompiledNode, { type: 'item' }>, at: string): Warning[] {
  const curve = item.source.curve;
  if (curve?.kind !== 'line') return [];
  const falls = curve.through.findIndex(([, y], i) => i > 0 && y < curve.through[i - 1]![1]);
  if (falls < 0) return [];
  return [
    {
      kind: 'score-may-lower',
      at: `${at}/curve/through/${falls}`,
      says: `The curve falls here: ${curve.through[falls]![0]} points marked become ${curve.through[falls]![1]}, fewer than a lower mark becomes.`,
    },
  ];
}

const MAY_LOWER: Warning['kind'][] = ['score-may-lower', 'drop-hangs-on-points', 'share-hangs-on-others'];

/**
 * True where a higher score of any kind of work can never lower a standing: none of the rules is there that a
 * `score-may-lower` or `drop-hangs-on-points` warning names.
 */
export function risesWithScores(book: BookDocument, compiled: CompiledBook): boolean {
  return !groupWarnings(book, compiled).some((w) => MAY_LOWER.includes(w.kind));
}
