import { add, compare, HUNDRED, multiply, ONE, ZERO, type Fraction } from '../exact/fraction';
import { bonusParts, type CompiledGroup, type CompiledNode } from '../calculation/compile';
import type { StudentOutcome } from '../calculation/final';
import type { GroupOutcome } from '../calculation/groups';
import { droppedStep } from './explain-item';
import type { DroppedStep, GroupStep } from './steps';

/** How one group (a category, or the whole) of one student came about. */
export function explainGroup(outcome: StudentOutcome, group: CompiledGroup): (GroupStep | DroppedStep)[] {
  const result = outcome.tree.outcomes[group.index]!;
  const { combine } = group.source;
  const steps: (GroupStep | DroppedStep)[] = group.children.map((node) => childStep(outcome, result, node));
  if (result.ratio === null) {
    steps.push({ step: 'empty', group: group.id });
    return steps;
  }
  const shares = result.staying.reduce((total, c) => add(total, c.share), ZERO);
  const earned = result.staying.reduce((total, c) => add(total, c.earned), ZERO);
  if (combine === 'weights') {
    const sum = group.children.filter((c) => !c.extraCredit).reduce((total, c) => add(total, c.weight), ZERO);
    if (group.parent === null && compare(sum, HUNDRED) !== 0) steps.push({ step: 'weights-sum', sum });
  }
  if (combine !== 'points' && result.extras.length > 0)
    steps.push({ step: 'extra-base', base: group.bonusBase!, ...bonusParts(group) });
  const extra = result.extras.reduce((total, e) => add(total, e.adds), ZERO);
  steps.push({
    step: 'together',
    percent: multiply(result.beforeLimits!, HUNDRED),
    shares,
    combine,
    earned,
    extra: multiply(extra, HUNDRED),
  });
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
  if (hangsOnPoints(group)) steps.push({ step: 'possible', points: result.possible });
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
  const extra = result.extras.find((e) => e.node === node);
  if (extra) {
    const shares = result.staying.reduce((total, c) => add(total, c.share), ZERO);
    const { earned, ratio } = extra;
    return {
      step: 'extra',
      node: node.id,
      combine,
      percent: ratio === null ? null : multiply(ratio, HUNDRED),
      share: extra.share,
      earned,
      base: combine === 'points' ? shares : result.group.bonusBase!,
      adds: multiply(extra.adds, HUNDRED),
    };
  }
  const counted = result.counting.find((c) => c.node === node);
  if (counted && result.staying.includes(counted))
    return {
      step: 'child',
      node: node.id,
      percent: multiply(counted.ratio, HUNDRED),
      share: counted.share,
      combine,
      earned: counted.earned,
      filled: counted.filled,
      item,
      dropped: node.type === 'item' ? [] : droppedInside(outcome, node),
    };
  if (counted) return droppedStep(result, node)!;
  const state = node.type === 'item' ? outcome.values[node.index]!.state : null;
  const left =
    (node.type === 'item' && !node.counts) ||
    node.extraCredit ||
    state === 'excused' ||
    (combine === 'weights' && node.weight.n === 0);
  return {
    step: 'child-open',
    node: node.id,
    weight: usualShare(combine, node),
    combine,
    why: left ? 'left-out' : 'nothing-yet',
    item,
    state,
  };
}

function usualShare(combine: 'points' | 'weights' | 'equal', node: CompiledNode): Fraction {
  if (combine === 'weights') return node.weight;
  return combine === 'equal' ? ONE : node.type === 'item' ? node.points : ZERO;
}

function droppedInside(outcome: StudentOutcome, group: CompiledGroup): DroppedStep[] {
  const inner = outcome.tree.outcomes[group.index]!;
  return [...inner.droppedLowest, ...inner.droppedHighest].map((c) => droppedStep(inner, c.node)!);
}
