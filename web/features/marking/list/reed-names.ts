import type { ArrivalRow } from '../../../data/work/arrival-rows';
import { hash } from './marking-order';

/** What stands in place of names: a word and a number, shuffled for each assessment. `seed`: of the assessment. */
export function reedNames(enrolments: readonly string[], seed: string): Map<string, string> {
  const digits = Math.max(2, String(enrolments.length).length);
  const shuffled = [...enrolments].sort((a, b) => {
    const [x, y] = [hash(`${seed} reed ${a}`), hash(`${seed} reed ${b}`)];
    return x === y ? (a < b ? -1 : 1) : x - y;
  });
  return new Map(shuffled.map((e, i) => [e, `Reed ${String(i + 1).padStart(digits, '0')}`]));
}

/** A row without what says whose it is: no name, no section, and files by their number and kind. */
export function hideName(row: ArrivalRow, name: string): ArrivalRow {
  return {
    ...row,
    ...{ name, section: '', parts: '' },
    submissions: row.submissions.map((s) => ({
      ...s,
      files: s.files.map((f, i) => ({ ...f, name: `file ${i + 1}${/\.[A-Za-z0-9]{1,5}$/.exec(f.name)?.[0] ?? ''}` })),
    })),
  };
}

/** Words of a phrase in which the name is left out, as one writes to whom one does not know. */
export function withoutName(words: string): string {
  const rest = words.replace(/,?\s*\{given\}\s*(?=[.!?])|\{given\}[,:;]?\s*/g, '').trim();
  return rest.charAt(0).toUpperCase() + rest.slice(1);
}
