import { divide, fromNumber, HUNDRED, multiply, percent, subtract, add, type Fraction } from '../exact/fraction';
import type { AttemptValue } from '../calculation/attempts';
import type { CompiledBook, CompiledGroup, CompiledItem } from '../calculation/compile';
import type { StudentOutcome } from '../calculation/final';
import type { ChildShare, GroupOutcome } from '../calculation/groups';
import type { ItemValue } from '../calculation/value';
import type { Step } from './steps';

/** How one item of one student came to count what it counts. */
export function explainItem(compiled: CompiledBook, outcome: StudentOutcome, item: CompiledItem): Step[] {
  const value = outcome.values[item.index]!;
  const steps: Step[] = [];
  if (value.state === 'scored') steps.push(...scoredSteps(item, value));
  else if (value.state === 'set') steps.push({ step: 'set', points: value.earned! });
  else {
    steps.push({
      step: 'state',
      state: value.state,
      due: value.due,
      closing: compiled.closing,
      optional: item.optional,
    });
    if (value.blankLine !== null) steps.push(blankStep(item, value));
  }
  steps.push({ step: 'counts-as', earned: value.earned, of: item.points, shown: item.counts });
  const parent = parentOf(compiled, item);
  const group = outcome.tree.outcomes[parent.index]!;
  const counted = group.counting.find((c) => c.node === item);
  if (counted || item.extraCredit)
    steps.push({
      step: 'share',
      group: parent.id,
      combine: parent.source.combine,
      share: shareOf(parent, item),
      optional: item.extraCredit,
    });
  const dropped = droppedStep(group, item);
  if (dropped) steps.push(dropped);
  else if (counted && value.protected) steps.push({ step: 'kept', group: parent.id, why: 'protected' });
  else if (counted && item.alwaysKept) steps.push({ step: 'kept', group: parent.id, why: 'always' });
  return steps;
}

function shareOf(parent: CompiledGroup, item: CompiledItem): Fraction {
  const { combine } = parent.source;
  return combine === 'points' ? item.points : combine === 'equal' ? fromNumber(1) : item.weight;
}

function scoredSteps(item: CompiledItem, value: ItemValue): Step[] {
  const { values, use, chosen } = value.attempts!;
  const steps: Step[] = [];
  if (chosen) steps.push(...attemptSteps(item, value, chosen, values.length));
  if (values.length > 1)
    steps.push({
      step: 'use',
      use,
      values: values.map((v) => ({ attempt: v.number, value: v.value })),
      chosen: chosen?.number ?? null,
    });
  return steps;
}

function attemptSteps(item: CompiledItem, value: ItemValue, a: AttemptValue, attempts: number): Step[] {
  const steps: Step[] = [
    { step: 'marked', attempt: a.number, attempts, points: a.raw, of: item.points, mark: a.source.mark ?? null },
  ];
  if (item.source.curve) steps.push({ step: 'curve', curve: item.source.curve, from: a.raw, to: a.curved });
  if (a.late) {
    const rule = item.late!.rule;
    steps.push({
      step: 'late',
      counted: a.late.counted,
      skipped: a.late.skipped,
      due: value.due,
      units: a.late.units,
      unit: a.late.unit,
      stated: a.late.source === 'stated',
      deduct: rule.deduct === undefined ? null : fromNumber(rule.deduct),
      percent: a.late.percent,
      limited: a.late.asked !== a.late.percent,
      of: rule.of ?? 'possible',
      base: rule.of === 'earned' ? a.curved : item.points,
      graceMinutes: rule.graceMinutes ?? 0,
      deduction: subtract(a.curved, a.afterLate),
    });
    if (a.floored) steps.push({ step: 'late-floor', floor: fromNumber(rule.floor ?? 0), value: a.afterLate });
  } else if (a.source.onTime) steps.push({ step: 'on-time', waived: true });
  if (a.cap)
    steps.push({
      step: 'retake-cap',
      percent: fromNumber(item.source.attempts!.retakeCap!),
      cap: a.cap,
      bites: a.capped,
    });
  return steps;
}

function blankStep(item: CompiledItem, value: ItemValue): Step {
  const line = value.blankLine!;
  const rule = item.blank;
  const given =
    line === 'beforeDue'
      ? rule.beforeDue === 'zero'
        ? percent(0)
        : null
      : rule.afterDue === 'skip'
        ? null
        : fromNumber(rule.afterDue.percent);
  return { step: 'blank-rule', line, percent: item.optional ? null : given, optional: item.optional };
}

/** The group that holds a node. */
export function parentOf(compiled: CompiledBook, node: CompiledItem | CompiledGroup): CompiledGroup {
  return compiled.groups.find((g) => g.children.includes(node))!;
}

/** What was dropped, and by how much the group's percentage would move if it were kept (negative: keeping costs). */
export function droppedStep(
  group: GroupOutcome,
  node: CompiledItem | CompiledGroup,
): Extract<Step, { step: 'dropped' }> | null {
  const lowest = group.droppedLowest.find((c) => c.node === node);
  const child = lowest ?? group.droppedHighest.find((c) => c.node === node);
  if (!child) return null;
  return {
    step: 'dropped',
    node: node.id,
    group: group.group.id,
    keepingMoves: multiply(subtract(plainWith(group, child), group.plain!), HUNDRED),
    highest: !lowest,
  };
}

function plainWith(group: GroupOutcome, child: ChildShare): Fraction {
  const all = [...group.staying, child];
  const earned = all.reduce((sum, c) => add(sum, c.earned), fromNumber(0));
  const share = all.reduce((sum, c) => add(sum, c.share), fromNumber(0));
  return divide(earned, share);
}
