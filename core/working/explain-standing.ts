import { compare, divide, fraction, fromNumber, least, subtract, type Fraction } from '../exact/fraction';
import { scaledInteger } from '../exact/rounding';
import type { CompiledBook } from '../calculation/compile';
import { isOpen, reachedBy, type StudentOutcome } from '../calculation/final';
import { explainGroup } from './explain-group';
import type { StandingStep, Step } from './steps';

/** How a student's standing came about: the categories, hurdles, override, rounding, letter, low and high. */
export function explainStanding(compiled: CompiledBook, outcome: StudentOutcome): Step[] {
  const { final } = outcome;
  const steps: Step[] = [...explainGroup(outcome, compiled.root), ...hurdleSteps(compiled, outcome)];
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
    if (final.letter !== null) steps.push(letterStep(compiled, final.exact, final.letter));
  }
  if (outcome.open && outcome.low.rounded !== null && outcome.high.rounded !== null)
    steps.push({ step: 'range', low: outcome.low.rounded, high: outcome.high.rounded });
  return steps;
}

/** Each hurdle in the order of the document; `bit` where it took something that was still there. */
function hurdleSteps(compiled: CompiledBook, outcome: StudentOutcome): StandingStep[] {
  let exact = outcome.final.fromRoot;
  return (compiled.book.hurdles ?? []).map((hurdle): StandingStep => {
    const node = compiled.nodes.get(hurdle.node)!;
    const atLeast = fromNumber(hurdle.atLeast);
    const capAt = fromNumber(hurdle.capAt);
    const reached = reachedBy(node, outcome.values, outcome.tree);
    const waits = isOpen(node, outcome.values);
    const failed = reached !== null && !waits && compare(reached, atLeast) < 0;
    const bit = failed && exact !== null && compare(exact, capAt) > 0;
    if (failed && exact !== null) exact = least(exact, capAt);
    return { step: 'hurdle', node: hurdle.node, atLeast, capAt, reached, waits, failed, bit };
  });
}

function letterStep(compiled: CompiledBook, exact: Fraction, letter: string): StandingStep {
  const { scale } = compiled;
  const { decimals, mode } = compiled.book.rounding;
  const rounded = divide(fraction(scaledInteger(exact, decimals, mode)), fraction(10 ** decimals));
  const figure = scale?.exact ? exact : rounded;
  // Bands stand from the highest down: the next is the last that is not reached.
  const above = (scale?.bounds ?? []).filter((from) => compare(from, figure) > 0).length;
  const own = scale?.labels.indexOf(letter) ?? -1;
  return {
    step: 'letter',
    letter,
    exact: scale?.exact ?? false,
    from: own >= 0 ? scale!.bounds[own]! : null,
    next: above > 0 ? { label: scale!.labels[above - 1]!, short: subtract(scale!.bounds[above - 1]!, figure) } : null,
  };
}
