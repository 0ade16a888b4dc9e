import {
  compare,
  divide,
  fromNumber,
  HUNDRED,
  multiply,
  percent,
  subtract,
  add,
  ONE,
  ZERO,
  type Fraction,
} from '../exact/fraction';
import type { AttemptsRule } from '../book/document';
import { retakeCapOf, type AttemptValue } from '../calculation/cells/attempts';
import { bankOf } from '../calculation/cells/bank';
import type { CompiledBook, CompiledGroup, CompiledItem, CompiledNode } from '../calculation/compiled/compile';
import type { StudentOutcome } from '../calculation/final';
import { weightOf } from '../calculation/compiled/variants';
import type { ChildShare, GroupOutcome } from '../calculation/groups';
import { entryAt } from '../calculation/cells/entries-by-item';
import { parseMoment } from '../time/moment';
import { itemValue, type ItemValue } from '../calculation/cells/value';
import { againSteps } from './explain-again';
import type { DroppedStep, ItemStep } from './steps';

/** How one item of one student came to count what it counts. */
export function explainItem(compiled: CompiledBook, outcome: StudentOutcome, item: CompiledItem): ItemStep[] {
  const value = itemValue(compiled, item, outcome.index);
  const steps: ItemStep[] = [];
  if (value.state === 'scored') steps.push(...scoredSteps(compiled, outcome, item, value));
  else if (value.state === 'set') steps.push({ step: 'set', points: value.earned! });
  else {
    const { closing } = compiled;
    steps.push({ step: 'state', state: value.state, due: value.due, closing, optional: item.optional });
    if (value.state === 'left-out') return steps;
    if (value.state === 'missing' || value.state === 'blank') steps.push(...dueStep(compiled, outcome, item));
    if (value.blankLine !== null) steps.push(blankStep(item, value));
  }
  steps.push({ step: 'counts-as', earned: value.earned, of: item.points, shown: item.counts });
  steps.push(...placeSteps(outcome, item, value), ...againSteps(outcome, item));
  return steps;
}

/** What becomes of the item in its group. */
function placeSteps(outcome: StudentOutcome, item: CompiledItem, value: ItemValue): ItemStep[] {
  const steps: ItemStep[] = [];
  const parent = item.parent!;
  const group = outcome.tree.outcomes[parent.index]!;
  const counted = group.counting.find((c) => c.node === item);
  if (counted || (item.extraCredit && item.counts))
    steps.push({
      step: 'share',
      group: parent.id,
      combine: parent.source.combine,
      share: shareOf(outcome, parent, item),
      optional: item.extraCredit,
    });
  const dropped = droppedStep(group, item);
  if (dropped) steps.push(dropped);
  else if (counted && value.protected) steps.push({ step: 'kept', group: parent.id, why: 'protected' });
  else if (counted && item.alwaysKept) steps.push({ step: 'kept', group: parent.id, why: 'always' });
  return steps;
}

export function shareOf({ variant }: StudentOutcome, parent: CompiledGroup, item: CompiledItem): Fraction {
  const { combine } = parent.source;
  return combine === 'points' ? item.points : combine === 'weights' ? weightOf(variant, item) : ONE;
}

/** Where the due date comes from; nothing where it is simply the item's. */
function dueStep(compiled: CompiledBook, outcome: StudentOutcome, item: CompiledItem): ItemStep[] {
  const entry = entryAt(compiled, outcome.index, item.index);
  const { section } = outcome.student;
  const ofSection = section === undefined ? undefined : item.sectionDates?.get(section)?.due;
  const from = entry?.dueAt !== undefined ? 'own' : ofSection != null ? 'section' : 'item';
  const base = from === 'own' ? parseMoment(entry!.dueAt!)! : from === 'section' ? ofSection! : item.due;
  if (base === null) return [];
  const extra = from === 'own' ? 0 : compiled.extraMillis[outcome.index]!;
  const allowances = entry?.lateAllowances ?? 0;
  if (from === 'item' && extra === 0 && allowances === 0) return [];
  const allowance = compiled.lateAllowanceMillis;
  return [{ step: 'due', due: base + extra + allowances * allowance, from, base, extra, allowances, allowance }];
}

function scoredSteps(
  compiled: CompiledBook,
  outcome: StudentOutcome,
  item: CompiledItem,
  value: ItemValue,
): ItemStep[] {
  const { values, use, chosen, value: counts } = value.attempts!;
  const steps = item.late === null ? [] : dueStep(compiled, outcome, item);
  const bankLeft = item.late?.bank ? bankOf(compiled, outcome.index, item.late).left : null;
  for (const a of values) {
    steps.push(...attemptSteps(item, value, a, values.length, bankLeft));
    if (values.length > 1) steps.push({ step: 'attempt-counts', attempt: a.number, value: a.value });
  }
  if (values.length > 1)
    steps.push({
      step: 'use',
      use,
      percent: percentOfUse(item.source.attempts),
      values: values.map((v) => ({ attempt: v.number, value: v.value })),
      chosen: chosen?.number ?? null,
      value: counts,
    });
  return steps;
}

/** The percent that a way of using attempts goes by. */
function percentOfUse(rule: AttemptsRule | undefined): Fraction | null {
  const given = rule?.use === 'decaying' ? rule.newest : rule?.use === 'regain' ? rule.regain : undefined;
  return given === undefined ? null : fromNumber(given);
}

function attemptSteps(
  item: CompiledItem,
  value: ItemValue,
  a: AttemptValue,
  attempts: number,
  bankLeft: number | null,
): ItemStep[] {
  const of = item.points;
  const steps: ItemStep[] = [
    { step: 'marked', attempt: a.number, attempts, points: a.raw, of, mark: a.source.mark ?? null },
  ];
  if (item.source.curve) steps.push({ step: 'curve', curve: item.source.curve, from: a.raw, to: a.curved, of });
  if (a.late) {
    const rule = item.late!.rule;
    steps.push({
      step: 'late',
      counted: a.late.counted,
      skipped: a.late.skipped,
      due: a.late.counted === null ? null : value.due,
      units: a.late.closed?.isMore ? null : a.late.units,
      unit: a.late.unit,
      deduct: rule.deduct === undefined ? null : fromNumber(rule.deduct),
      fromBank: a.late.fromBank,
      bankLeft,
      closed: a.late.closed,
      percent: a.late.percent,
      limited: compare(a.late.asked, a.late.percent) > 0,
      of: rule.of ?? 'possible',
      base: rule.of === 'earned' ? a.curved : of,
      graceMinutes: rule.graceMinutes ?? 0,
      takes: a.deduction,
      deduction: subtract(a.curved, a.afterLate),
    });
    const floor = a.late.closed ? ZERO : fromNumber(rule.floor ?? 0);
    if (a.floored) steps.push({ step: 'late-floor', floor, of, value: a.afterLate });
  } else if (a.source.onTime && item.late) steps.push({ step: 'on-time', waived: true });
  if (a.cap)
    steps.push({
      step: 'retake-cap',
      percent: fromNumber(retakeCapOf(item.source.attempts!, a.number)!),
      cap: a.cap,
      bites: a.capped,
    });
  return steps;
}

function blankStep(item: CompiledItem, value: ItemValue): ItemStep {
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
  const optional = item.optional || item.isCount;
  return { step: 'blank-rule', line, percent: optional ? null : given, of: item.points, optional };
}

/** What was dropped, and by how much the group's percentage would move if it were kept. */
export function droppedStep(group: GroupOutcome, node: CompiledNode): DroppedStep | null {
  const lowest = group.droppedLowest.find((c) => c.node === node);
  const child = lowest ?? group.droppedHighest.find((c) => c.node === node);
  if (!child) return null;
  return {
    step: 'dropped',
    node: node.id,
    again: node.type === 'also' ? node.of.id : null,
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
