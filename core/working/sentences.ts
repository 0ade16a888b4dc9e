import { formOf } from '../words/count';
import { compare, negate, toText, ZERO } from '../exact/fraction';
import { curve, due, late, state, use } from './item-sentences';
import { exactPercent, line, percents, type Line, type Of, type Wording } from './lines';
import type { Step } from './steps';
import { count, exact, exactly, figure, ordinal, short } from './wording';

export type { Line, Wording };

/** The working as lines to read, in the order of its steps. The one place where steps become English. */
export function sentences(steps: readonly Step[], words: Wording): Line[] {
  return steps.map((s) => sentence(s, words));
}

type Maker<K extends Step['step']> = (s: Of<K>, w: Wording) => Line;

function keepingWould(s: Of<'dropped'>): string {
  const sign = compare(s.keepingMoves, ZERO);
  if (sign === 0) return 'keeping it would change nothing';
  return `keeping it would ${sign < 0 ? 'cost' : 'add'} ${short(sign < 0 ? negate(s.keepingMoves) : s.keepingMoves)}`;
}

function child(s: Of<'child'>, w: Wording): Line {
  const parts = s.dropped.map((d) => `${w.name(d.node)} dropped; ${keepingWould(d)}`);
  if (s.filled) parts.push('nothing came; its category takes that as 0');
  const whole = s.combine === 'points' ? exactly(s.earned) : exactly(s.percent);
  if (whole) parts.push(whole);
  const detail = parts.join('; ');
  if (s.combine === 'points') return line(w.name(s.node), detail, `${short(s.earned)} / ${exact(s.share)}`);
  if (s.combine === 'equal') return line(w.name(s.node), detail, percents(s.percent));
  return line(w.name(s.node), detail, `${short(s.percent)} × ${exact(s.share)}`);
}

function extra(s: Of<'extra'>, w: Wording): Line {
  const how =
    s.combine === 'points'
      ? `extra credit: ${exact(s.earned)} of ${exact(s.base)} points`
      : `extra credit: ${exact(s.percent ?? ZERO)} × ${exact(s.share)} / ${exact(s.base)}`;
  return line(w.name(s.node), how, `+ ${figure(s.adds)}`);
}

function childOpen(s: Of<'child-open'>, w: Wording): Line {
  if (s.why === 'left-out')
    return line(w.name(s.node), s.state === 'excused' ? 'excused: does not count' : 'does not count here', '', 'quiet');
  if (s.state === 'pending') return line(w.name(s.node), 'waits to be marked', 'to mark', 'quiet');
  if (s.state === 'awaiting') return line(w.name(s.node), 'still expected', 'awaited', 'quiet');
  if (s.state === 'missing') return line(w.name(s.node), 'missing; its rule leaves it out', 'missing', 'quiet');
  const shared =
    s.combine === 'weights' ? `nothing yet: its ${short(s.weight)} is shared out among the rest` : 'nothing yet';
  return line(w.name(s.node), shared, 'open', 'quiet');
}

function hurdle(s: Of<'hurdle'>, w: Wording): Line {
  const rule = `${w.name(s.node)} must reach ${exactPercent(s.atLeast)}`;
  if (s.waits) return line('Hurdle', `${rule}; it is not all marked yet, so it waits`, '', 'quiet');
  if (s.reached === null) return line('Hurdle', `${rule}; it does not count for this student`, '', 'quiet');
  if (!s.failed) return line('Hurdle', `${rule}; it has ${exactPercent(s.reached)}`, 'met', 'quiet');
  return line(
    'Hurdle',
    `${rule}; it has ${exactPercent(s.reached)}, so the whole is at most ${exactPercent(s.capAt)}`,
    s.bit ? exactPercent(s.capAt) : 'not met',
    'cost',
  );
}

function together(s: Of<'together'>): Line {
  const how =
    s.combine === 'points'
      ? `${exact(s.earned)} of ${exact(s.shares)} points`
      : s.combine === 'equal'
        ? 'the mean of those above, each alike'
        : `the sum of those above, divided by ${exact(s.shares)}, the weight that counts so far`;
  const plus = s.extra.n === 0 ? '' : `with ${exact(s.extra)} of extra credit`;
  return line('Together', [how, plus, exactly(s.percent)].filter(Boolean).join('; '), percents(s.percent), 'sum');
}

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
            : s.combine === 'equal'
              ? `one of those that count alike in ${w.name(s.group)}`
              : `weight ${exact(s.share)} in ${w.name(s.group)}`,
          '',
          'quiet',
        ),
  dropped: (s, w) =>
    line(
      `${w.name(s.node)} dropped`,
      `${w.name(s.group)} drops the ${s.highest ? 'highest' : 'lowest'}; ${keepingWould(s)} there`,
      '',
      'quiet',
    ),
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
  hurdle,
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
    return line(
      `Letter ${s.letter}`,
      [
        s.exact ? `${from}, by the unrounded figure` : from,
        s.next ? `${exact(s.next.short)} short of ${s.next.label}` : '',
      ]
        .filter(Boolean)
        .join('; '),
      s.letter,
    );
  },
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
