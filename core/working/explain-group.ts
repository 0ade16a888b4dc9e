import { add, compare, HUNDRED, multiply, ONE, ZERO, type Fraction } from '../exact/fraction';
import type { Combine } from '../book/document';
import type { CompiledGroup, CompiledNode } from '../calculation/compiled/compile';
import type { StudentOutcome } from '../calculation/final';
import type { GroupOutcome } from '../calculation/groups';
import { bonusParts, weightOf, type CompiledVariant } from '../calculation/compiled/variants';
import { againOf, againSteps } from './explain-again';
import { droppedStep } from './explain-item';
import type { DroppedStep, GroupStep } from './steps';

/** How one group (a category, or the whole) of one student came about. */
export function explainGroup(outcome: StudentOutcome, group: CompiledGroup): (GroupStep | DroppedStep)[] {
  const result = outcome.tree.outcomes[group.index]!;
  const { variant } = outcome;
  const { combine } = group.source;
  const children = group.children.filter((c) => !variant.leftOut.has(c));
  const steps: (GroupStep | DroppedStep)[] = children.map((node) => childStep(outcome, result, node));
  if (result.ratio === null) {
    steps.push({ step: 'empty', group: group.id });
    return steps;
  }
  const shares = result.staying.reduce((total, c) => add(total, c.share), ZERO);
  const earned = result.staying.reduce((total, c) => add(total, c.earned), ZERO);
  if (combine === 'weights' && group.parent === null) {
    const sum = children.filter((c) => !c.extraCredit).reduce((total, c) => add(total, weightOf(variant, c)), ZERO);
    if (compare(sum, HUNDRED) !== 0) steps.push({ step: 'weights-sum', sum });
  }
  const bonusBase = variant.bonusBase[group.index];
  if (combine !== 'points' && result.extras.length > 0)
    steps.push({ step: 'extra-base', base: bonusBase!, ...bonusParts(variant, group) });
  const extra = result.extras.reduce((total, e) => add(total, e.adds), ZERO);
  if (group.extraAtMost !== null && result.extras.length > 0)
    steps.push({
      step: 'extra-limit',
      most: multiply(group.extraAtMost, HUNDRED),
      together: multiply(extra, HUNDRED),
      bites: compare(extra, group.extraAtMost) > 0,
    });
  steps.push({
    step: 'together',
    percent: multiply(result.beforeLimits!, HUNDRED),
    shares,
    combine,
    earned,
    extra: multiply(result.extra, HUNDRED),
    newest: group.newest === null ? null : multiply(group.newest, HUNDRED),
  });
  steps.push(...limitSteps(group, result));
  if (hangsOnPoints(group)) steps.push({ step: 'possible', points: result.possible });
  return [...steps, ...againSteps(outcome, group)];
}

/** What becomes of the figure before it goes on. */
function limitSteps(group: CompiledGroup, result: GroupOutcome): GroupStep[] {
  const steps: GroupStep[] = [];
  const percent = (ratio: Fraction): Fraction => multiply(ratio, HUNDRED);
  if (group.source.then)
    steps.push({ step: 'then', then: group.source.then, from: percent(result.beforeLimits!), to: percent(result.afterThen!) }); // prettier-ignore
  const before = result.afterThen!;
  if (group.cap) steps.push({ step: 'group-cap', cap: percent(group.cap), bites: compare(before, group.cap) > 0 });
  if (group.floor)
    steps.push({ step: 'group-floor', floor: percent(group.floor), bites: compare(before, group.floor) < 0 });
  return steps;
}

/** The group's possible points are its share, or part of one, further up. */
export function hangsOnPoints(group: CompiledGroup): boolean {
  for (let above = group.parent; above !== null; above = above.parent)
    if (above.source.combine === 'points') return true;
  return false;
}

function childStep(outcome: StudentOutcome, result: GroupOutcome, node: CompiledNode): GroupStep | DroppedStep {
  const { combine } = result.group.source;
  const item = node.type === 'item';
  const again = againOf(outcome, node);
  const extra = result.extras.find((e) => e.node === node);
  if (extra) {
    const shares = result.staying.reduce((total, c) => add(total, c.share), ZERO);
    const { earned, ratio, filled } = extra;
    return {
      step: 'extra',
      node: node.id,
      again,
      combine,
      percent: ratio === null ? null : multiply(ratio, HUNDRED),
      share: extra.share,
      earned,
      filled,
      base: combine === 'points' ? shares : outcome.variant.bonusBase[result.group.index]!,
      adds: multiply(extra.adds, HUNDRED),
    };
  }
  const counted = result.counting.find((c) => c.node === node);
  if (counted && result.staying.includes(counted))
    return {
      step: 'child',
      node: node.id,
      again,
      percent: multiply(counted.ratio, HUNDRED),
      share: counted.share,
      combine,
      earned: counted.earned,
      filled: counted.filled,
      item,
      dropped: node.type === 'group' ? droppedInside(outcome, node) : [],
      inside: node.type === 'group' ? countedAgainInside(outcome, node) : [],
    };
  if (counted) return droppedStep(result, node)!;
  const state = node.type === 'item' ? outcome.values[node.index]!.state : null;
  const weight = usualShare(outcome.variant, combine, node);
  const left =
    (node.type === 'item' && !node.counts) || node.extraCredit || state === 'excused' || (combine === 'weights' && weight.n === 0); // prettier-ignore
  return { step: 'child-open', node: node.id, again, weight, combine, why: left ? 'left-out' : 'nothing-yet', item, state }; // prettier-ignore
}

function usualShare(variant: CompiledVariant, combine: Combine, node: CompiledNode): Fraction {
  if (combine === 'weights') return weightOf(variant, node);
  if (combine !== 'points') return ONE;
  return node.type === 'item' ? node.points : node.type === 'also' ? (node.points ?? ZERO) : ZERO;
}

function countedAgainInside(outcome: StudentOutcome, group: CompiledGroup): { again: string; percent: Fraction }[] {
  return outcome.tree.outcomes[group.index]!.staying.flatMap(({ node, ratio }) =>
    node.type === 'also' ? [{ again: node.of.id, percent: multiply(ratio, HUNDRED) }] : [],
  );
}

function droppedInside(outcome: StudentOutcome, group: CompiledGroup): DroppedStep[] {
  const inner = outcome.tree.outcomes[group.index]!;
  return [...inner.droppedLowest, ...inner.droppedHighest].map((c) => droppedStep(inner, c.node)!);
}
