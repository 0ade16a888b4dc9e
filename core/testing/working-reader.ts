import { type RoundingMode, roundedText } from '../exact/rounding';
import {
  add,
  compare,
  divide,
  fraction,
  fromNumber,
  greatest,
  HUNDRED,
  least,
  multiply,
  subtract,
  ZERO,
  type Fraction,
} from '../exact/fraction';
import type { Step } from '../working/steps';

/**
 * A person with paper: works figures out anew from the steps of a working and from nothing else, and throws where a
 * step does not follow from those before it.
 */
type Of<K extends Step['step']> = Extract<Step, { step: K }>;
const all = <K extends Step['step']>(steps: readonly Step[], kind: K): Of<K>[] =>
  steps.filter((s): s is Of<K> => s.step === kind);
const part = (percent: Fraction, of: Fraction): Fraction => divide(multiply(percent, of), HUNDRED);

function must(same: boolean, what: string): void {
  if (!same) throw new Error(`on paper: ${what}`);
}
const equal = (a: Fraction, b: Fraction): boolean => compare(a, b) === 0;

/** Points that an item counts; null: it is left out. */
export function itemOnPaper(steps: readonly Step[]): Fraction | null {
  const attempts: Fraction[] = [];
  let now: Fraction | null = null;
  for (const s of steps) {
    switch (s.step) {
      case 'set':
        now = s.points;
        break;
      case 'state':
        now = null;
        break;
      case 'blank-rule':
        now = s.percent === null ? null : part(s.percent, s.of);
        break;
      case 'marked':
        now = s.points;
        break;
      case 'curve':
        must(now !== null && equal(s.from, now), 'a curve begins with what was marked');
        now = onCurve(s);
        must(equal(now, s.to), 'a curve comes to what it says');
        break;
      case 'late': {
        if (s.deduct !== null && s.units !== null && !s.limited && !s.closed?.isMore)
          must(
            equal(s.percent, multiply(s.deduct, fraction(s.units - s.fromBank))),
            'units × deduction is the percent',
          );
        must(equal(s.takes, part(s.percent, s.base)), 'the percent of its base is what lateness takes');
        const floored = steps.slice(steps.indexOf(s) + 1)[0]?.step === 'late-floor';
        if (!floored)
          must(equal(subtract(now!, s.takes), subtract(now!, s.deduction)), 'nothing but the floor stops it');
        now = subtract(now!, s.takes);
        if (floored) break;
        must(compare(now, ZERO) >= 0, 'lateness leaves nothing below 0 without saying so');
        break;
      }
      case 'late-floor': {
        const before = add(now!, all(steps.slice(0, steps.indexOf(s)), 'late').at(-1)!.takes);
        now = greatest(now!, least(before, part(s.floor, s.of)));
        must(equal(now, s.value), 'the floor of lateness');
        break;
      }
      case 'retake-cap':
        now = least(now!, s.cap);
        break;
      case 'attempt-counts':
        must(equal(now!, s.value), 'an attempt comes to what it says');
        attempts.push(s.value);
        break;
      case 'use': {
        must(s.values.length === attempts.length, 'every attempt is there');
        if (s.use === 'mean') now = divide(attempts.reduce(add, ZERO), fraction(attempts.length));
        else if (s.use === 'best') now = attempts.reduce(greatest);
        else if (s.use === 'decaying')
          now = attempts.reduce((was, a) => add(part(s.percent!, a), part(subtract(HUNDRED, s.percent!), was))); // prettier-ignore
        else if (s.use === 'regain')
          now = add(attempts[0]!, part(s.percent!, greatest(ZERO, subtract(attempts.reduce(greatest), attempts[0]!)))); // prettier-ignore
        else now = s.use === 'first' ? attempts[0]! : attempts.at(-1)!;
        must(equal(now, s.value), 'which attempt counts');
        break;
      }
    }
  }
  return now;
}

function onCurve(s: Of<'curve'>): Fraction {
  const { curve } = s;
  if (curve.kind === 'add') return greatest(add(s.from, fromNumber(curve.points)), ZERO);
  if (curve.kind === 'top') return divide(multiply(s.from, s.of), fromNumber(curve.at));
  return lineThrough(curve.through, s.from);
}

function lineThrough(through: readonly [number, number][], from: Fraction): Fraction {
  const line = through.map(([x, y]) => [fromNumber(x), fromNumber(y)] as const);
  const at = line.findIndex(([x]) => compare(from, x) <= 0);
  if (at <= 0) return at === 0 ? line[0]![1] : line.at(-1)![1];
  const [[x1, y1], [x2, y2]] = [line[at - 1]!, line[at]!];
  return add(y1, divide(multiply(subtract(y2, y1), subtract(from, x1)), subtract(x2, x1)));
}

/** The percentage of a group; null: it is left out. `known`: percentages and points of its children by their names. */
export function groupOnPaper(steps: readonly Step[], known: (id: string) => Fraction | null): Fraction | null {
  const children = all(steps, 'child');
  if (children.length === 0) {
    must(all(steps, 'empty').length === 1, 'a group without figures says so');
    return null;
  }
  for (const c of children)
    if (!c.filled && c.again === null) must(equal(c.percent, known(c.node)!), `${c.node} brings its own percentage`);
  const shares = children.reduce((sum, c) => add(sum, c.share), ZERO);
  const earned = children.reduce((sum, c) => add(sum, part(c.percent, c.share)), ZERO);
  let percent = together(all(steps, 'together')[0]!, children, multiply(divide(earned, shares), HUNDRED));
  let extra = ZERO;
  const base = all(steps, 'extra-base')[0];
  if (base)
    must(equal(base.base, multiply(base.sum, fraction(base.kept, base.all))), 'what extra credit is measured against');
  for (const x of all(steps, 'extra')) {
    if (x.combine === 'points')
      must(equal(x.base, shares), 'extra credit in points is measured against the points that stay');
    else {
      must(equal(x.base, base!.base), 'extra credit is measured against W');
      if (!x.filled && x.again === null) must(equal(x.percent!, known(x.node)!), `${x.node} brings its own percentage`);
    }
    const adds =
      x.combine === 'points'
        ? multiply(divide(x.earned, x.base), HUNDRED)
        : divide(multiply(x.percent!, x.share), x.base);
    must(equal(adds, x.adds), 'what extra credit adds');
    extra = add(extra, adds);
  }
  for (const l of all(steps, 'extra-limit')) extra = least(extra, l.most);
  percent = add(percent, extra);
  must(equal(percent, all(steps, 'together')[0]!.percent), 'the sum of a group');
  for (const s of all(steps, 'then')) {
    must(equal(percent, s.from), 'what is bent before it goes on');
    percent = applyThen(s.then, s.from);
    must(equal(percent, s.to), 'what it is bent to');
  }
  for (const s of all(steps, 'group-cap')) percent = least(percent, s.cap);
  for (const s of all(steps, 'group-floor')) percent = greatest(percent, s.floor);
  return percent;
}

/** What the children of a group make together, before extra credit. */
function together(s: Of<'together'>, children: readonly Of<'child'>[], mean: Fraction): Fraction {
  const percents = children.map((c) => c.percent);
  if (s.combine === 'decaying')
    return percents.reduce((was, p) => add(part(s.newest!, p), part(subtract(HUNDRED, s.newest!), was)));
  if (s.combine !== 'median') return mean;
  const sorted = [...percents].sort(compare);
  const n = sorted.length;
  return divide(add(sorted[(n - 1) >> 1]!, sorted[n >> 1]!), fraction(2));
}

function applyThen(then: Of<'then'>['then'], percent: Fraction): Fraction {
  if (then.through) return lineThrough(then.through, percent);
  if (then.steps)
    return then.steps.reduce((gives, [from, to]) => (compare(percent, fromNumber(from)) >= 0 ? fromNumber(to) : gives), ZERO); // prettier-ignore
  const step = fromNumber(then.step!);
  return multiply(fromNumber(Number(roundedText(divide(percent, step), 0, then.mode!))), step);
}

/** The rounded figure of a standing, from its steps after those of the whole group. */
export function standingOnPaper(steps: readonly Step[], whole: Fraction | null): string | null {
  let percent = whole;
  for (const h of all(steps, 'hurdle')) {
    const fails = h.atLeast === null ? h.failed : h.reached !== null && !h.waits && compare(h.reached, h.atLeast) < 0;
    must(fails === h.failed, 'whether a hurdle is missed');
    if (fails && h.capAt !== null && percent !== null) percent = least(percent, h.capAt);
  }
  for (const c of all(steps, 'count')) {
    const above = c.earned === null ? ZERO : greatest(ZERO, subtract(c.earned, c.over));
    const exact = divide(above, c.each);
    let times = fraction((BigInt(exact.n) + BigInt(exact.d) - 1n) / BigInt(exact.d));
    if (c.most !== null) times = least(times, fraction(c.most));
    must(equal(times, c.times), 'how often a count takes off');
    if (c.percent !== null && percent !== null) percent = subtract(percent, multiply(times, c.percent));
  }
  if (percent !== null) percent = greatest(percent, ZERO);
  for (const o of all(steps, 'override')) if (o.percent !== null) percent = o.percent;
  if (percent === null) return null;
  const r = all(steps, 'rounded')[0]!;
  must(equal(percent, r.exact), 'the figure before rounding');
  return roundedText(percent, r.decimals, r.mode satisfies RoundingMode);
}
