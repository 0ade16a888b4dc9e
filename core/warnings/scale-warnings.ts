import type { CompiledBook, CompiledNode } from '../calculation/compile';
import { pointersOf, rulePointer } from './places';
import type { Warning } from './warnings';

/** Letters that rounding decides, and hurdles that nobody can miss or meet. */
export function scaleWarnings(compiled: CompiledBook): Warning[] {
  return [...roundingWarnings(compiled), ...hurdleWarnings(compiled)];
}

function roundingWarnings(compiled: CompiledBook): Warning[] {
  const { book, scale } = compiled;
  if (scale === null) return [];
  const { decimals, mode } = book.rounding;
  const at = rulePointer('scales', book.scale!);
  const step = 10 ** (4 - decimals);
  const first = scale.labels[0]!;
  const bound = scale.from[0]! / 10_000;
  const unseen = scale.exact ? [] : unseenBands(compiled, at, step);
  if (mode === 'down' || bound === 0) return unseen;
  const says = scale.exact
    ? `Letters are looked up on the unrounded figure: somebody who is shown ${bound} % may have a little less, and not ${first}.`
    : `Letters are looked up on the rounded figure, so each begins a little earlier: ${first} at ${(scale.from[0]! - step / 2) / 10_000} %, which rounds to ${bound} %.`;
  return [{ kind: 'rounds-across-band', at, says }, ...unseen];
}

/** Bands that begin where no rounded figure can stand. */
function unseenBands(compiled: CompiledBook, at: string, step: number): Warning[] {
  const { book, scale } = compiled;
  const bands = book.rules!.scales![book.scale!]!.bands;
  return bands.flatMap((band, i): Warning[] => {
    const from = Math.round(band.from * 10_000);
    if (scale === null || from % step === 0) return [];
    const shown = (Math.ceil(from / step) * step) / 10_000;
    return [
      {
        kind: 'rounds-across-band',
        at: `${at}/bands/${i}`,
        says: `${band.label} begins at ${band.from} %, which a figure of ${book.rounding.decimals} decimals never shows: in fact it begins with what is shown as ${shown} %.`,
      },
    ];
  });
}

/** Hurdles whose bounds lie outside of what their node can come to. */
function hurdleWarnings(compiled: CompiledBook): Warning[] {
  const places = pointersOf(compiled.book.tree);
  return (compiled.book.hurdles ?? []).flatMap((hurdle, i): Warning[] => {
    const node = compiled.nodes.get(hurdle.node)!;
    const at = `/hurdles/${i}`;
    const { lowest, highest } = limits(node);
    if (hurdle.atLeast === 0 || lowest >= hurdle.atLeast)
      return [
        {
          kind: 'hurdle-never-missed',
          at,
          says: `Nobody can miss this hurdle: ${hurdle.node} (${places.get(hurdle.node)!}) is never below ${Math.max(lowest, 0)} %, and ${hurdle.atLeast} % is asked.`,
        },
      ];
    if (hurdle.capAt >= 100 && limits(compiled.root).highest <= hurdle.capAt)
      return [
        {
          kind: 'hurdle-never-missed',
          at,
          says: `Missing this hurdle costs nothing: it caps at ${hurdle.capAt} %, and the whole never goes beyond.`,
        },
      ];
    if (hurdle.atLeast > highest)
      return [
        {
          kind: 'hurdle-never-met',
          at,
          says: `Nobody can meet this hurdle with full points: ${hurdle.node} comes to ${highest} % at most, and ${hurdle.atLeast} % is asked.`,
        },
      ];
    return [];
  });
}

/** The least and the most that a node can come to, in percent, with scores from nothing to full points. */
function limits(node: CompiledNode): { lowest: number; highest: number } {
  if (node.type === 'item') return { lowest: 0, highest: itemHighest(node) };
  const floor = node.source.floor ?? 0;
  const cap = node.source.cap ?? Infinity;
  const counting = node.children.filter((c) => !c.extraCredit);
  const extra = node.children.some((c) => c.extraCredit);
  const inner = counting.map(limits);
  const lowest = inner.length === 0 ? 0 : Math.min(...inner.map((l) => l.lowest));
  const highest = extra ? Infinity : Math.max(0, ...inner.map((l) => l.highest));
  return { lowest: Math.max(floor, Math.min(cap, lowest)), highest: Math.max(floor, Math.min(cap, highest)) };
}

function itemHighest(item: Extract<CompiledNode, { type: 'item' }>): number {
  const { curve, points } = item.source;
  if (!curve) return 100;
  if (curve.kind === 'add') return Math.max(0, 100 * (1 + curve.points / points));
  if (curve.kind === 'top') return Math.max(100, (100 * points) / curve.at);
  return (100 * Math.max(...curve.through.map(([, y]) => y))) / points;
}
