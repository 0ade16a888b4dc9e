import { fromNumber, HUNDRED, multiply } from '../exact/fraction';
import type { CompiledNode } from '../calculation/compiled/compile';
import type { StudentOutcome } from '../calculation/final';
import type { Again, AgainStep } from './steps';

/** What a node that is counted again counts, and how; null for any other node. */
export function againOf(outcome: StudentOutcome, node: CompiledNode): Again | null {
  if (node.type !== 'also') return null;
  const { own, reached } = outcome.tree.alsos[node.index]!;
  const { from, reaching } = node.source;
  return {
    of: node.of.id,
    own: own === null ? null : multiply(own, HUNDRED),
    isBent: node.through !== null,
    from: from === undefined ? null : fromNumber(from),
    reaching: reaching === undefined ? null : fromNumber(reaching),
    reached: reached?.reach.length ?? 0,
    asked: reached?.asked.length ?? 0,
    standsIn: node.standsIn,
  };
}

/** Where a node counts once more. */
export const againSteps = (outcome: StudentOutcome, node: CompiledNode): AgainStep[] =>
  outcome.tree.alsos.flatMap(({ also, ratio, dropped }): AgainStep[] => {
    if (also.of !== node || outcome.variant.leftOut.has(also)) return [];
    const percent = ratio === null ? null : multiply(ratio, HUNDRED);
    return [{ step: 'counted-again', group: also.parent!.id, percent, dropped }];
  });
