import { compare, divide, fraction, fromNumber, least, subtract, type Fraction } from '../exact/fraction';
import { scaledInteger } from '../exact/rounding';
import type { Hurdle } from '../book/document';
import { bandsTaken, capOf, doesFail, isOpen, reachedBy, timesOf, type Worked } from '../calculation/consequences';
import type { CompiledBook, CompiledItem, CompiledNode } from '../calculation/compiled/compile';
import type { StudentOutcome } from '../calculation/final';
import { letterCap, type OtherHurdle } from '../calculation/hurdles';
import { explainGroup } from './explain-group';
import type { StandingStep, Step } from './steps';

/** How a student's standing came about: the categories, hurdles, override, rounding, letter, low and high. */
export function explainStanding(compiled: CompiledBook, outcome: StudentOutcome): Step[] {
  const { final } = outcome;
  const steps: Step[] = [
    ...variantSteps(compiled, outcome),
    ...explainGroup(outcome, compiled.root),
    ...hurdleSteps(compiled, outcome),
  ];
  if (outcome.override)
    steps.push({
      step: 'override',
      percent: outcome.override.percent === undefined ? null : fromNumber(outcome.override.percent),
      letter: outcome.override.letter ?? null,
      reason: outcome.override.reason ?? null,
    });
  if (final.exact !== null) {
    const { decimals, mode } = compiled.book.rounding;
    steps.push({ step: 'rounded', exact: final.exact, rounded: final.rounded!, decimals, mode });
    if (final.letter !== null) steps.push(letterStep(compiled, outcome, final.exact, final.letter));
  }
  if (final.shown !== null) steps.push({ step: 'shown', shown: final.shown, label: compiled.book.shown!.label ?? '' });
  if (outcome.open && outcome.low.rounded !== null && outcome.high.rounded !== null)
    steps.push({ step: 'range', low: outcome.low.rounded, high: outcome.high.rounded });
  return steps;
}

/** What a node counts again; null: it is no such node. */
function countedBy(compiled: CompiledBook, id: string): string | null {
  const node = compiled.nodes.get(id)!;
  return node.type === 'also' ? node.of.id : null;
}

/** Where the student has a variant of the rules. */
function variantSteps(compiled: CompiledBook, { variant: { name } }: StudentOutcome): StandingStep[] {
  if (name === null) return [];
  const { weights, leftOut: ids = [], scale } = compiled.book.variants![name]!;
  const leftOut = ids.map((node) => ({ node, again: countedBy(compiled, node) }));
  const hasWeights = Object.keys(weights ?? {}).some((id) => id !== 'info');
  return [
    {
      step: 'variant',
      name,
      hasWeights,
      leftOut,
      letters: scale === undefined ? null : scale === null ? 'none' : 'own',
    },
  ];
}

/** Each hurdle in the order of the document, then each count; `bit` where it took something that was still there. */
function hurdleSteps(compiled: CompiledBook, outcome: StudentOutcome): StandingStep[] {
  const worked: Worked = { values: outcome.values, tree: outcome.tree, closing: compiled.closing };
  const { leftOut } = outcome.variant;
  const node = (id: string): CompiledNode => compiled.nodes.get(id)!;
  const asked = (compiled.book.hurdles ?? []).filter(
    (h) => !leftOut.has(node(h.node)) && !(typeof h.capAt === 'object' && h.capAt.node !== undefined && leftOut.has(node(h.capAt.node))), // prettier-ignore
  );
  let exact = outcome.final.fromRoot;
  let lettered = false;
  const steps = asked
    .filter((h) => h.over === undefined)
    .map((hurdle): StandingStep => {
      const compiledHurdle = oneHurdle(compiled, outcome, hurdle);
      const { atLeast, capAt, letter } = compiledHurdle;
      const at = node(hurdle.node);
      const failed = doesFail(compiledHurdle, worked);
      const cap = capAt === null ? null : capOf(capAt, worked);
      const holds = failed && cap !== null && exact !== null && compare(exact, cap) > 0;
      const bit = holds || (failed && letter !== null && !lettered);
      if (failed && cap !== null && exact !== null) exact = least(exact, cap);
      lettered ||= failed && letter !== null;
      const asksForWork = atLeast === null;
      const capNode = typeof hurdle.capAt === 'object' ? (hurdle.capAt.node ?? null) : null;
      return {
        step: 'hurdle',
        node: hurdle.node,
        again: countedBy(compiled, hurdle.node),
        atLeast,
        capAt: cap,
        capNode,
        capAgain: capNode === null ? null : countedBy(compiled, capNode),
        capLetter: typeof hurdle.capAt === 'object' ? (hurdle.capAt.letter ?? null) : null,
        letter,
        reached: asksForWork ? null : reachedBy(at, outcome.values, outcome.tree),
        waits: !asksForWork && isOpen(at, outcome.values),
        failed,
        bit,
      };
    });
  const counts = outcome.variant.hurdles.counts.map((c): StandingStep => {
    const { item, over, each, most, percent, letters } = c;
    const { earned } = outcome.values[item.index]!;
    return {
      step: 'count',
      node: item.id,
      earned,
      over,
      each,
      most,
      times: timesOf(c, outcome.values),
      percent,
      letters,
    };
  });
  return [...steps, ...counts];
}

/** A hurdle by itself, as this student's scale has it. */
function oneHurdle(compiled: CompiledBook, outcome: StudentOutcome, h: Hurdle): OtherHurdle {
  const { scale } = outcome.variant;
  const { decimals } = compiled.book.rounding;
  const cap = typeof h.capAt === 'object' && h.capAt.letter !== undefined ? letterCap(scale, h.capAt.letter, decimals) : h.capAt; // prettier-ignore
  return {
    node: compiled.nodes.get(h.node) as CompiledItem,
    atLeast: typeof h.atLeast === 'number' ? fromNumber(h.atLeast) : null,
    capAt: cap == null ? null : typeof cap === 'number' ? fromNumber(cap) : compiled.nodes.get(cap.node!)!,
    letter: h.letter ?? null,
  };
}

function letterStep(compiled: CompiledBook, outcome: StudentOutcome, exact: Fraction, letter: string): StandingStep {
  const { scale, hurdles } = outcome.variant;
  const { decimals, mode } = compiled.book.rounding;
  const rounded = divide(fraction(scaledInteger(exact, decimals, mode)), fraction(10 ** decimals));
  const figure = scale?.exact ? exact : rounded;
  // Bands stand from the highest down: the next is the last that is not reached.
  const above = (scale?.bounds ?? []).filter((from) => compare(from, figure) > 0).length;
  const own = scale?.labels.indexOf(letter) ?? -1;
  const isSet = outcome.override?.percent !== undefined;
  const taken = isSet ? 0 : bandsTaken(hurdles, outcome.values);
  return {
    step: 'letter',
    letter,
    exact: scale?.exact ?? false,
    from: own >= 0 ? scale!.bounds[own]! : null,
    taken: scale === null ? 0 : taken,
    before: scale === null || taken === 0 ? null : scale.labels[above]!,
    next: above > 0 ? { label: scale!.labels[above - 1]!, short: subtract(scale!.bounds[above - 1]!, figure) } : null,
  };
}
