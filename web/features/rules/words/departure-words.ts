import { counted, listed } from '@core/words/count';
import type { RulesPart } from '@core/book/change';
import type { NamedMark, Scale } from '@core/book/document';
import type { Deviation, OtherDays } from '@core/policy/deviations';
import { dayWords } from './day-list';
import type { Draft, RuleSet } from '../draft';
import { BLANKS } from '../sentences/blanks';
import { DAYS, LATENESS } from '../sentences/lateness';
import { ROUNDING } from '../sentences/letters/letters';
import { plainWords, type Part } from '../sentences/sentence';

/** A draft that holds one rule of a set, or one rounding, and nothing else. */
function lone(rules: Partial<RulesPart>): Draft {
  return {
    rules: {
      blank: 'usual',
      rounding: { decimals: 1, mode: 'half-up' },
      tree: { id: 'all', type: 'group', combine: 'weights', children: [] },
      ...rules,
    },
    items: [],
    supposed: [],
  };
}

const named = (set: RuleSet, name: string, rule: unknown): Draft => lone({ rules: { [set]: { [name]: rule } } });

/** What a rule says, as its sentences on the rules page say it. */
const ruleWords = (part: Part, draft: Draft, keep: (id: string) => boolean): string =>
  part
    .sentences(draft)
    .filter((s) => keep(s.id) && s.onlyHere !== true)
    .map(plainWords)
    .join(' ');

const marksWords = (marks: NamedMark[]): string => listed(marks.map((m) => `${m.label} ${m.percent} %`));
const scaleWords = (scale: Scale): string =>
  listed([...scale.bands].sort((a, b) => b.from - a.from).map((b) => `${b.label} ${b.from} %`)) +
  (scale.lookUp === 'exact' ? ', by the exact percentage' : '');

const daysWords = (days: readonly string[]): string => {
  const week = days.filter((d) => d.length === 1).map((d) => DAYS[Number(d) - 1]!.text);
  const dates = days.filter((d) => d.length > 1);
  return listed([...week, ...(dates.length > 0 ? [dayWords(dates)] : [])]);
};

const goesBy = (name: unknown, none: string): string =>
  name === null || name === undefined ? none : `“${String(name)}”`;

/** One departure as a sentence: what the book has, and what the school says. `title`: of what it is in. */
export function departureWords({ matter, place, is, school }: Deviation, title: string): string {
  switch (matter) {
    case 'allowance':
      return `A late allowance is worth ${counted(Number(is), 'hour')}, not ${String(school)}.`;
    case 'rounding': {
      const words = (rounding: unknown): string =>
        ruleWords(ROUNDING, lone({ rounding: rounding as RulesPart['rounding'] }), (id) => id === 'rounding').replace(
          /^A final percentage is rounded once, at the end, to /,
          '',
        );
      return `Rounded to ${words(is)} The school: ${words(school)}`;
    }
    case 'calendar': {
      const { more, less } = is as OtherDays;
      const own = more.length > 0 ? [`also leaves out ${daysWords(more)}`] : [];
      const counts = less.length > 0 ? [`counts ${daysWords(less)}`] : [];
      return `“${title}” ${[...own, ...counts].join(' and ')}.`;
    }
    case 'marks':
      return `“${title}” is ${marksWords(is as NamedMark[])}, not ${marksWords(school as NamedMark[])}.`;
    case 'letters':
      return place.kind === 'default'
        ? `Final grades are ${is === null ? 'percentages alone' : `letters by ${goesBy(is, '')}`}, not ${school === null ? 'percentages alone' : `letters by ${goesBy(school, '')}`}.`
        : `Letters: ${scaleWords(is as Scale)}. The school: ${scaleWords(school as Scale)}.`;
    case 'late':
    case 'blank': {
      const none = 'no rule';
      if (place.kind === 'default') return `The book goes by ${goesBy(is, none)}, not by ${goesBy(school, none)}.`;
      if (place.kind !== 'rule') return `${title} goes by ${goesBy(is, none)}, which is not the school’s.`;
      const part = matter === 'late' ? LATENESS : BLANKS;
      const keep = (id: string): boolean =>
        matter === 'late' ? id === `late ${title}` || id === `late ${title} floor` : id.startsWith(`blank ${title} `);
      const words = (rule: unknown): string => ruleWords(part, named(matter, title, rule), keep);
      return `“${title}”: ${words(is)} The school: ${words(school)}`;
    }
  }
}
