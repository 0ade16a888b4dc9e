import { listed } from '@core/words/count';
import type { Difference } from '@core/proposal/differences';
import { groupsDeep, titleOf, type Draft } from '../draft';

const SETTINGS: Record<string, string> = {
  blank: 'the rule for blanks',
  late: 'the rule for lateness',
  scale: 'the letters',
  rounding: 'rounding',
  hurdles: 'hurdles',
  closing: 'the closing of the term',
  lateAllowanceHours: 'what a late allowance is worth',
};
const RULES = { late: 'lateness', blank: 'blanks', marks: 'marks', scales: 'letters' } as const;
const KEYS: Record<string, string> = {
  weight: 'the weight of',
  combine: 'what counts how in',
  drop: 'drops of',
  keepBest: 'drops of',
  alwaysKept: 'what is always kept:',
  extraCredit: 'extra credit:',
  counts: 'whether it counts:',
  whenEmpty: 'nothing counting in',
  cap: 'the most for',
  floor: 'the least for',
  late: 'lateness of',
  blank: 'blanks of',
  attempts: 'attempts of',
  curve: 'the curve of',
  marks: 'the marks of',
};

function words(draft: Draft, d: Difference): string {
  switch (d.kind) {
    case 'setting':
      return SETTINGS[d.at] ?? d.at;
    case 'rule':
      return d.set === 'scales' ? 'the letters' : `${RULES[d.set]} “${d.name}”`;
    case 'node': {
      const group = groupsDeep(draft.rules.tree).find((p) => p.group.id === d.id)?.group;
      const title = group ? titleOf(draft, group) : (draft.items.find((i) => i.id === d.id)?.title ?? d.id);
      return `${KEYS[d.key] ?? d.key} ${title}`;
    }
    case 'tree':
      return 'other categories';
    case 'entry':
      return 'what is supposed';
    default:
      return '';
  }
}

/** What moves somebody, in a few words: "the weight of Checks and drops of Practicals". */
export function causeWords(draft: Draft, differences: readonly Difference[]): string {
  const all = [...new Set(differences.map((d) => words(draft, d)).filter(Boolean))];
  return all.length > 3 ? `${all.slice(0, 3).join(', ')} and ${all.length - 3} more` : listed(all);
}
