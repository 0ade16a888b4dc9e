import type { CompiledBook, CompiledGroup, CompiledNode } from '../calculation/compiled/compile';
import { weightOf } from '../calculation/compiled/variants';
import { toNumber } from '../exact/fraction';
import type { Warning } from './warnings';

const isCounting = (c: CompiledNode): boolean => !c.extraCredit && (c.type !== 'item' || c.counts);

/** Of one group: what is counted again, extra credit beside a choice, figures that are bent, pieces without an order. */
export function policyWarnings(g: CompiledGroup, places: ReadonlyMap<string, string>): Warning[] {
  const at = places.get(g.id)!;
  return [...shareWarnings(g, places), ...bonusWarnings(g, at), ...bentWarnings(g, places), ...orderWarnings(g, at)];
}

function shareWarnings(g: CompiledGroup, places: ReadonlyMap<string, string>): Warning[] {
  if (g.source.combine !== 'points') return [];
  return g.children.flatMap((c): Warning[] =>
    c.type !== 'also' || c.points !== null || c.of.type === 'item' || !isCounting(c)
      ? []
      : [
          {
            kind: 'share-hangs-on-others',
            at: places.get(c.id)!,
            says: `Here ${c.of.id} is counted again with the points of what counts in it: it weighs less for a student who is excused from some of it. Points of its own hold it.`,
          },
        ],
  );
}

/** Extra credit among groups of which few count is measured by those few. */
function bonusWarnings(g: CompiledGroup, at: string): Warning[] {
  const groups = g.children.filter((c) => c.type === 'group' && isCounting(c)).length;
  const kept = g.source.keepBest ?? g.children.filter(isCounting).length - (g.source.drop?.highest ?? 0) - (g.source.drop?.lowest ?? 0); // prettier-ignore
  const bonus = g.children.find((c) => c.extraCredit);
  if (bonus === undefined || groups < 2 || kept > 1 || g.source.combine === 'points') return [];
  return [
    {
      kind: 'bonus-beside-few',
      at,
      says: `Extra credit stands beside ${groups} groups of which one counts, and is measured by that one: ${bonus.id} may add as much as a whole. Put the groups into one of their own, and the extra credit beside it.`,
    },
  ];
}

/** A better figure that becomes a worse one. */
function bentWarnings(g: CompiledGroup, places: ReadonlyMap<string, string>): Warning[] {
  const falls = (pairs: readonly [number, number][]): number =>
    pairs.findIndex(([, y], i) => i > 0 && y < pairs[i - 1]![1]);
  const warn = (pairs: readonly [number, number][] | undefined, at: string): Warning[] => {
    const i = pairs === undefined ? -1 : falls(pairs);
    if (i < 0) return [];
    const says = `Here a better figure becomes a worse one: ${pairs![i]![0]} % becomes ${pairs![i]![1]} %, less than a lower figure becomes.`;
    return [{ kind: 'score-may-lower', at: `${at}/${i}`, says }];
  };
  const at = places.get(g.id)!;
  return [
    ...warn(g.source.then?.through, `${at}/then/through`),
    ...warn(g.source.then?.steps, `${at}/then/steps`),
    ...g.children.flatMap((c) => (c.type === 'also' ? warn(c.source.through, `${places.get(c.id)!}/through`) : [])),
  ];
}

/** The newest counts more, but the pieces do not stand in the order of their dates. */
function orderWarnings(g: CompiledGroup, at: string): Warning[] {
  if (g.source.combine !== 'decaying') return [];
  const pieces = g.children.filter(isCounting);
  const dates = pieces.map((c) => (c.type === 'item' ? c.due : null));
  if (pieces.length < 2 || dates.every((d, i) => d !== null && (i === 0 || d >= dates[i - 1]!))) return [];
  const bare = pieces.filter((_, i) => dates[i] === null);
  return [
    {
      kind: 'order-without-dates',
      at,
      says: `The later ones count more here, in the order in which they stand, which is not that of their dates${bare.length > 0 ? `: ${bare[0]!.id} has none` : ''}.`,
    },
  ];
}

/** Variants whose weights do not sum to 100, where those of the book do. */
export function variantWarnings(compiled: CompiledBook): Warning[] {
  if (compiled.root.source.combine !== 'weights') return [];
  const sumOf = (variant: CompiledBook['variants'][number]): number =>
    compiled.root.children
      .filter((c) => isCounting(c) && !variant.leftOut.has(c))
      .reduce((sum, c) => sum + Math.round(toNumber(weightOf(variant, c)) * 10_000), 0) / 10_000;
  if (sumOf(compiled.variants[0]!) !== 100) return [];
  return compiled.variants.slice(1).flatMap((variant): Warning[] => {
    const sum = sumOf(variant);
    if (sum === 100) return [];
    return [
      {
        kind: 'weights-not-100',
        at: `/variants/${variant.name!.replaceAll('~', '~0').replaceAll('/', '~1')}`,
        says: `In this variant the weights sum to ${sum}, not 100. Each counts as its part of ${sum}.`,
      },
    ];
  });
}
