import { formOf } from '../words/count';
import { toText } from '../exact/fraction';
import {
  bent,
  child,
  childOpen,
  countedAgain,
  extra,
  extraLimit,
  keepingWould,
  nameOf,
  together,
} from './group-sentences';
import { counts, hurdle, variant } from './standing-sentences';
import { curve, due, late, state, use } from './item-sentences';
import { exactPercent, line, type Line, type Of, type Wording } from './lines';
import type { Step } from './steps';
import { count, exact, figure, ordinal, short } from './wording';

export type { Line, Wording };

/** The working as lines to read, in the order of its steps. The one place where steps become English. */
export function sentences(steps: readonly Step[], words: Wording): Line[] {
  return steps.map((s) => sentence(s, words));
}

type Maker<K extends Step['step']> = (s: Of<K>, w: Wording) => Line;

const MODES = {
  'half-up': 'a half goes up',
  'half-even': 'a half goes to the even digit',
  down: 'always down',
} as const;

const makers: { [K in Step['step']]: Maker<K> } = {
  state,
  'blank-rule': (s) =>
    s.percent === null
      ? line('Rule for blanks', s.optional ? 'extra credit: a blank never hurts' : 'a blank is left out', '', 'quiet')
      : line(
          'Rule for blanks',
          s.line === 'beforeDue'
            ? 'a blank counts 0 until work comes'
            : `a blank past due counts ${exactPercent(s.percent)} of ${exact(s.of)} points`,
          '',
          'cost',
        ),
  set: (s) => line('Set by hand', 'it stands as it is, rules aside', figure(s.points)),
  marked: (s) =>
    line(
      'Marked',
      [s.mark ?? '', s.attempts > 1 ? `${ordinal(s.attempt)} attempt` : ''].filter(Boolean).join(', ') ||
        `of ${short(s.of)}`,
      figure(s.points),
    ),
  curve,
  due,
  late,
  'on-time': () => line('Lateness waived', 'taken as on time', '', 'quiet'),
  'late-floor': (s) =>
    line(
      'Late floor',
      `lateness takes nothing below ${exactPercent(s.floor)} of ${exact(s.of)} points`,
      figure(s.value),
    ),
  'attempt-counts': (s) => line(`The ${ordinal(s.attempt)} attempt`, 'comes to', figure(s.value)),
  'retake-cap': (s) =>
    line(
      `Retake cap ${exactPercent(s.percent)}`,
      s.bites ? `at most ${exact(s.cap)}` : `at most ${exact(s.cap)}: does not bite`,
      figure(s.cap),
      s.bites ? 'cost' : 'quiet',
    ),
  use,
  'counts-as': (s) =>
    s.earned === null
      ? line('Counts as', 'nothing: it is left out', '–', 'sum')
      : line('Counts as', s.shown ? `of ${exact(s.of)}` : 'shown only, it counts nowhere', figure(s.earned), 'sum'),
  share: (s, w) =>
    s.optional
      ? line('Extra credit', `in ${w.name(s.group)}: it can only add`, '', 'quiet')
      : line(
          'Share',
          s.combine === 'points'
            ? `${exact(s.share)} points in ${w.name(s.group)}`
            : s.combine === 'weights'
              ? `weight ${exact(s.share)} in ${w.name(s.group)}`
              : `one of those that count alike in ${w.name(s.group)}`,
          '',
          'quiet',
        ),
  dropped: (s, w) =>
    line(
      `${nameOf(s.node, s.again, w)} dropped`,
      `${w.name(s.group)} drops the ${s.highest ? 'highest' : 'lowest'}; ${keepingWould(s)} there`,
      '',
      'quiet',
    ),
  'counted-again': countedAgain,
  kept: (s, w) =>
    line(
      'Always kept',
      s.why === 'protected' ? `protected: ${w.name(s.group)} cannot drop it` : `${w.name(s.group)} always keeps it`,
      '',
      'quiet',
    ),
  child,
  'child-open': childOpen,
  extra,
  'extra-base': (s) =>
    line(
      'Extra credit is measured against',
      s.kept === s.all
        ? 'the sum of the weights of all that can count'
        : `${exact(s.sum)} × ${s.kept} / ${s.all}, since ${s.all - s.kept} of ${s.all} are dropped in the end`,
      exact(s.base),
      'quiet',
    ),
  together,
  'extra-limit': extraLimit,
  then: bent,
  'weights-sum': (s) =>
    line(
      'Weights',
      `the weights sum to ${exact(s.sum)}, not 100; each counts as its part of ${exact(s.sum)}`,
      '',
      'quiet',
    ),
  'group-cap': (s) =>
    line(
      'Cap',
      s.bites ? `at most ${exactPercent(s.cap)}` : `at most ${exactPercent(s.cap)}: does not bite`,
      exactPercent(s.cap),
      s.bites ? 'cost' : 'quiet',
    ),
  'group-floor': (s) =>
    line(
      'Floor',
      s.bites ? `at least ${exactPercent(s.floor)}` : `at least ${exactPercent(s.floor)}: not needed`,
      exactPercent(s.floor),
      s.bites ? 'plain' : 'quiet',
    ),
  possible: (s) => line('Its share further up', 'the points possible of those that count', exact(s.points), 'quiet'),
  empty: (s, w) => line('Together', `nothing counts in ${w.name(s.group)} yet`, '–', 'sum'),
  variant,
  hurdle,
  count: counts,
  override: (s) =>
    line(
      'Override',
      s.reason === null || s.reason === '' ? 'set by hand, no reason given' : s.reason,
      [s.percent === null ? '' : exactPercent(s.percent), s.letter ?? ''].filter(Boolean).join(' '),
    ),
  rounded: (s) =>
    line(
      'Rounded',
      `once, at the end: ${toText(s.exact)} to ${count(s.decimals)} ${formOf(s.decimals, 'decimal', 'decimals')}, ${MODES[s.mode]}`,
      s.rounded,
      'sum',
    ),
  letter: (s) => {
    const from = s.from === null ? 'given by hand' : `from ${exactPercent(s.from)}`;
    const taken = s.taken > 0 ? `${s.before}, and ${count(s.taken)} ${formOf(s.taken, 'band', 'bands')} off` : '';
    return line(
      `Letter ${s.letter}`,
      [
        taken,
        s.exact ? `${from}, by the unrounded figure` : from,
        s.next ? `${exact(s.next.short)} short of ${s.next.label}` : '',
      ]
        .filter(Boolean)
        .join('; '),
      s.letter,
    );
  },
  shown: (s) => line('Shown', 'the same on the scale of this school', [s.shown, s.label].filter(Boolean).join(' ')),
  range: (s) =>
    line(
      'Still open',
      `with nothing more it ends at ${s.low}; with full points on all that is open, at ${s.high}`,
      `${s.low}–${s.high}`,
      'quiet',
    ),
};

function sentence<K extends Step['step']>(s: Of<K>, w: Wording): Line {
  return (makers[s.step as K] as Maker<K>)(s, w);
}
