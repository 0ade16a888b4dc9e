import { add, compare, fromNumber, HUNDRED, multiply, subtract, ZERO, type Fraction } from '../exact/fraction';
import type { CompiledBook, CompiledGroup } from '../calculation/compile';
import type { StudentOutcome } from '../calculation/final';
import { droppedStep } from './explain-item';
import type { Step } from './steps';

/** How one group (a category, or the whole) of one student came about. */
export function explainGroup(outcome: StudentOutcome, group: CompiledGroup): Step[] {
  const result = outcome.tree.outcomes[group.index]!;
  const combine = group.source.combine;
  const steps: Step[] = [];
  for (const node of group.children) {
    const item = node.type === 'item';
    const weight =
      combine === 'weights'
        ? node.weight
        : combine === 'equal'
          ? fromNumber(1)
          : node.type === 'item'
            ? node.points
            : ZERO;
    const extra = result.extras.find((e) => e.node === node);
    const counted = result.counting.find((c) => c.node === node);
    if (extra) steps.push({ step: 'extra', node: node.id, adds: multiply(extra.adds, HUNDRED) });
    else if (counted && result.staying.includes(counted))
      steps.push({
        step: 'child',
        node: node.id,
        percent: multiply(counted.ratio, HUNDRED),
        share: counted.share,
        combine,
        earned: counted.earned,
        filled: counted.filled,
        item,
        dropped: node.type === 'item' ? [] : droppedInside(outcome, node),
      });
    else if (counted) steps.push(droppedStep(result, node)!);
    else {
      const state = node.type === 'item' ? outcome.values[node.index]!.state : null;
      const shown = node.type === 'item' && !node.counts;
      const left = shown || node.extraCredit || state === 'excused';
      steps.push({
        step: 'child-open',
        node: node.id,
        weight,
        combine,
        why: left ? 'left-out' : 'nothing-yet',
        item,
        state,
      });
    }
  }
  if (result.ratio === null) {
    steps.push({ step: 'empty', group: group.id });
    return steps;
  }
  if (combine === 'weights') {
    const sum = group.children.filter((c) => !c.extraCredit).reduce((total, c) => add(total, c.weight), ZERO);
    if (compare(sum, HUNDRED) !== 0) steps.push({ step: 'weights-sum', sum });
  }
  const shares = result.staying.reduce((total, c) => add(total, c.share), ZERO);
  const earned = result.staying.reduce((total, c) => add(total, c.earned), ZERO);
  steps.push({ step: 'together', percent: multiply(result.beforeLimits!, HUNDRED), shares, combine, earned });
  if (group.cap)
    steps.push({
      step: 'group-cap',
      cap: multiply(group.cap, HUNDRED),
      bites: compare(result.beforeLimits!, group.cap) > 0,
    });
  if (group.floor)
    steps.push({
      step: 'group-floor',
      floor: multiply(group.floor, HUNDRED),
      bites: compare(result.beforeLimits!, group.floor) < 0,
    });
  return steps;
}

function droppedInside(outcome: StudentOutcome, group: CompiledGroup): Extract<Step, { step: 'dropped' }>[] {
  const inner = outcome.tree.outcomes[group.index]!;
  return [...inner.droppedLowest, ...inner.droppedHighest].map((c) => droppedStep(inner, c.node)!);
}

/** How a student's standing came about: the categories, hurdles, override, rounding, letter, low and high. */
export function explainStanding(compiled: CompiledBook, outcome: StudentOutcome): Step[] {
  const { final } = outcome;
  const steps = explainGroup(outcome, compiled.root);
  for (const h of final.hurdles)
    steps.push({
      step: 'hurdle',
      node: h.hurdle.node,
      atLeast: fromNumber(h.hurdle.atLeast),
      capAt: fromNumber(h.hurdle.capAt),
      reached: h.reached,
      waits: h.waits,
      failed: h.failed,
      bit: h.bit,
    });
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
    if (final.letter !== null) steps.push(letterStep(compiled, final.exact, final.rounded!, final.letter));
  }
  if (outcome.open && outcome.low.rounded !== null && outcome.high.rounded !== null)
    steps.push({ step: 'range', low: outcome.low.rounded, high: outcome.high.rounded });
  return steps;
}

function letterStep(compiled: CompiledBook, exact: Fraction, rounded: string, letter: string): Step {
  const scale = compiled.scale;
  const figure = scale?.lookUp === 'exact' ? exact : fromNumber(Number(rounded));
  const bands = [...(scale?.bands ?? [])].sort((a, b) => a.from - b.from);
  const next = bands.find((b) => compare(fromNumber(b.from), figure) > 0);
  const own = bands.find((b) => b.label === letter);
  return {
    step: 'letter',
    letter,
    from: own ? fromNumber(own.from) : null,
    next: next ? { label: next.label, short: subtract(fromNumber(next.from), figure) } : null,
  };
}
