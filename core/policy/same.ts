import { canonical } from '../book/canonical';
import type { BlankRule, LateRule, NamedMark, Scale } from '../book/document';
import type { RulesPart } from '../book/change';
import type { NamedSet } from './document';

/** A named rule with its defaults written out and what the calculation does not read left out; days apart, which are the calendar's. */
function plain(set: NamedSet, rule: unknown): unknown {
  switch (set) {
    case 'late': {
      const l = rule as LateRule;
      return {
        unit: l.unit ?? null,
        deduct: l.deduct ?? null,
        steps: (l.steps ?? []).map(({ hours, deduct }) => ({ hours, deduct })),
        after: l.after ?? null,
        max: l.max ?? 100,
        afterCloses: l.afterCloses ?? null,
        bank: l.bank ? { units: l.bank.units, perItem: l.bank.perItem ?? null } : null,
        of: l.of ?? 'possible',
        floor: l.floor ?? 0,
        graceMinutes: l.graceMinutes ?? 0,
      };
    }
    case 'blank': {
      const b = rule as BlankRule;
      return {
        beforeDue: b.beforeDue,
        afterDue: b.afterDue === 'skip' ? 'skip' : b.afterDue.percent,
        missingAfter: b.missingAfter ?? 'due',
      };
    }
    case 'marks':
      return (rule as NamedMark[]).map(({ label, percent }) => ({ label, percent }));
    case 'scales': {
      const s = rule as Scale;
      return {
        bands: s.bands.map(({ label, from }) => ({ label, from })).sort((a, b) => b.from - a.from),
        lookUp: s.lookUp ?? 'rounded',
      };
    }
  }
}

/** Hours that one late allowance is worth. */
export const allowanceHours = (r: Pick<RulesPart, 'lateAllowanceHours'>): number => r.lateAllowanceHours ?? 24;

export const sameRounding = (a: Pick<RulesPart, 'rounding'>, b: Pick<RulesPart, 'rounding'>): boolean =>
  a.rounding.decimals === b.rounding.decimals && a.rounding.mode === b.rounding.mode;

/** True where two rules of a set say the same, in whatever words; what is not there is the same as nothing alone. */
export const saysSame = (set: NamedSet, a: unknown, b: unknown): boolean =>
  a === undefined || b === undefined ? a === b : canonical(plain(set, a)) === canonical(plain(set, b));
