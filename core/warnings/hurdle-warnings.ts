import type { Hurdle } from '../book/document';
import type { CompiledAlso, CompiledBook, CompiledItem, CompiledNode } from '../calculation/compiled/compile';
import { bandOfPercent } from '../calculation/letters';
import { fraction, fromNumber } from '../exact/fraction';
import { scaledInteger } from '../exact/rounding';
import { pointersOf } from './places';
import type { Warning } from './warnings';

/** Hurdles that nobody can miss or meet, caps that rounding lifts, thresholds that nobody means, counts of work. */
export function hurdleWarnings(compiled: CompiledBook): Warning[] {
  return (compiled.book.hurdles ?? []).flatMap((hurdle, i): Warning[] => {
    const at = `/hurdles/${i}`;
    if (hurdle.over !== undefined) return countWarnings(compiled, hurdle, at);
    return [...boundWarnings(compiled, hurdle, at), ...capWarnings(compiled, hurdle, at), ...shareWarnings(compiled, hurdle, at)]; // prettier-ignore
  });
}

/** Bounds that lie outside of what their node can come to. */
function boundWarnings(compiled: CompiledBook, { node: id, atLeast, capAt }: Hurdle, at: string): Warning[] {
  if (typeof atLeast !== 'number') return [];
  const node = compiled.nodes.get(id)!;
  const { lowest, highest } = limits(node);
  if (atLeast === 0 || lowest >= atLeast) {
    const place = pointersOf(compiled.book.tree).get(id)!;
    const says = `Nobody can miss this hurdle: ${id} (${place}) is never below ${Math.max(lowest, 0)} %, and ${atLeast} % is asked.`;
    return [{ kind: 'hurdle-never-missed', at, says }];
  }
  if (typeof capAt === 'number' && capAt >= 100 && limits(compiled.root).highest <= capAt)
    return [
      {
        kind: 'hurdle-never-missed',
        at,
        says: `Missing this hurdle costs nothing: it caps at ${capAt} %, and the whole never goes beyond.`,
      },
    ];
  if (atLeast > highest)
    return [
      {
        kind: 'hurdle-never-met',
        at,
        says: `Nobody can meet this hurdle with full points: ${id} comes to ${highest} % at most, and ${atLeast} % is asked.`,
      },
    ];
  return [];
}

/** A cap that rounds into the next letter. */
function capWarnings({ book, scale }: CompiledBook, { capAt }: Hurdle, at: string): Warning[] {
  if (typeof capAt !== 'number' || scale === null || scale.exact) return [];
  const { decimals, mode } = book.rounding;
  const exact = fromNumber(capAt);
  const rounded = fraction(scaledInteger(exact, decimals, mode), 10 ** decimals);
  const own = bandOfPercent(scale, exact, exact);
  const shown = bandOfPercent(scale, exact, rounded);
  if (own === shown) return [];
  return [
    {
      kind: 'cap-rounds-across-band',
      at: `${at}/capAt`,
      says: `A cap of ${capAt} % is rounded to ${Number(rounded.n) / Number(rounded.d)} %, and that is ${scale.labels[shown]!}, not ${scale.labels[own]!}. Say the letter instead.`,
    },
  ];
}

/** A threshold just above so many of so many: two thirds written as 66.67 asks for more than two of three. */
function shareWarnings(compiled: CompiledBook, { node: id, atLeast }: Hurdle, at: string): Warning[] {
  const node = compiled.nodes.get(id)!;
  if (typeof atLeast !== 'number' || node.type !== 'also' || node.reaching === null) return [];
  const n = askedOf(node);
  for (let k = 1; k < n; k++) {
    const share = (100 * k) / n;
    if (atLeast > share && atLeast - share < 0.01)
      return [
        {
          kind: 'threshold-above-fraction',
          at: `${at}/atLeast`,
          says: `${atLeast} % is a little more than ${k} of ${n}: with ${k} of ${n} it is not reached. ${Math.floor(share * 10_000) / 10_000} % is.`,
        },
      ];
  }
  return [];
}

/** How many children there are to reach it, where nothing is excused. */
function askedOf({ of }: CompiledAlso): number {
  if (of.type === 'item') return 0;
  const all = of.children.filter((c) => !c.extraCredit && (c.type !== 'item' || c.counts)).length;
  const { drop, keepBest } = of.source;
  return Math.max(
    1,
    keepBest === undefined ? all - (drop?.lowest ?? 0) - (drop?.highest ?? 0) : Math.min(all, keepBest),
  );
}

/** A count of things is typed in: what students hand in is no number of things. */
function countWarnings(compiled: CompiledBook, { node }: Hurdle, at: string): Warning[] {
  const { source } = compiled.nodes.get(node) as CompiledItem;
  const takesWork = (source.info as { takesWork?: unknown } | undefined)?.takesWork === true;
  if (!takesWork && source.due === undefined && source.closes === undefined) return [];
  return [
    {
      kind: 'count-of-work',
      at: `${at}/node`,
      says: takesWork
        ? 'Students hand work in to this, and here it is a number of things that takes something off: each point of it costs.'
        : 'This has a date, and here it is a number of things that takes something off. A number of things has no date: nothing typed in is none.',
    },
  ];
}

/** The least and the most that a node can come to, in percent, with scores from nothing to full points. */
function limits(node: CompiledNode): { lowest: number; highest: number } {
  if (node.type === 'item') return { lowest: 0, highest: itemHighest(node) };
  if (node.type === 'also') return alsoLimits(node);
  const floor = node.source.floor ?? 0;
  const cap = node.source.cap ?? Infinity;
  const inner = node.children.filter((c) => !c.extraCredit).map(limits);
  const extra = node.children.some((c) => c.extraCredit);
  let lowest = inner.length === 0 ? 0 : Math.min(...inner.map((l) => l.lowest));
  let highest = extra ? Infinity : Math.max(0, ...inner.map((l) => l.highest));
  const given = node.source.then?.through ?? node.source.then?.steps;
  if (given) [lowest, highest] = [0, Math.max(...given.map(([, y]) => y))];
  // A multiple may be higher, or lower, than what it is made of.
  const step = node.source.then?.step ?? 0;
  [lowest, highest] = [Math.max(0, lowest - step), highest + step];
  return { lowest: Math.max(floor, Math.min(cap, lowest)), highest: Math.max(floor, Math.min(cap, highest)) };
}

function alsoLimits({ of, source: { through, from, reaching } }: CompiledAlso): { lowest: number; highest: number } {
  if (through) {
    const ys = through.map(([, y]) => y);
    return { lowest: Math.min(...ys), highest: Math.max(...ys) };
  }
  return from !== undefined || reaching !== undefined ? { lowest: 0, highest: 100 } : limits(of);
}

function itemHighest(item: CompiledItem): number {
  const { curve, points } = item.source;
  if (!curve) return 100;
  if (curve.kind === 'add') return Math.max(0, 100 * (1 + curve.points / points));
  if (curve.kind === 'top') return Math.max(100, (100 * points) / curve.at);
  return (100 * Math.max(...curve.through.map(([, y]) => y))) / points;
}
