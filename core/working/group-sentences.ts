import { compare, HUNDRED, negate, ZERO } from '../exact/fraction';
import type { Then } from '../book/document';
import { exactPercent, line, percents, type Line, type Of, type Wording } from './lines';
import type { Again } from './steps';
import { count, exact, exactly, figure, short } from './wording';

/** The sentences of a group's steps. */
export function keepingWould(s: Of<'dropped'>): string {
  const sign = compare(s.keepingMoves, ZERO);
  if (sign === 0) return 'keeping it would change nothing';
  return `keeping it would ${sign < 0 ? 'cost' : 'add'} ${short(sign < 0 ? negate(s.keepingMoves) : s.keepingMoves)}`;
}

/** The title of a node; of one that is counted again that of what it counts. */
export const nameOf = (node: string, again: string | null, w: Wording): string =>
  again === null ? w.name(node) : `${w.name(again)}, counted again`;

/** How what is counted again came to be what it is here; nothing where it simply counts. */
function againWords(again: Again | null): string[] {
  if (again === null || again.own === null) return [];
  const own = exactPercent(again.own);
  if (again.reaching !== null)
    return [`${count(again.reached)} of ${count(again.asked)} reach ${exactPercent(again.reaching)}`];
  if (again.from !== null) {
    const reaches = compare(again.own, again.from) >= 0;
    return [`it has ${own}, ${reaches ? 'and reaches' : 'less than'} ${exactPercent(again.from)}`];
  }
  if (again.isBent) return [`from ${own}, along its line`];
  return again.standsIn ? ['stands in for the lowest beside it'] : [];
}

export function child(s: Of<'child'>, w: Wording): Line {
  const parts = againWords(s.again);
  parts.push(...s.inside.map((a) => `${w.name(a.again)}, counted again: ${percents(a.percent)}`));
  parts.push(...s.dropped.map((d) => `${nameOf(d.node, d.again, w)} dropped; ${keepingWould(d)}`));
  if (s.filled) parts.push('nothing came; its category takes that as 0');
  const whole = s.combine === 'points' ? exactly(s.earned) : exactly(s.percent);
  if (whole) parts.push(whole);
  const detail = parts.join('; ');
  const name = nameOf(s.node, s.again?.of ?? null, w);
  if (s.combine === 'points') return line(name, detail, `${short(s.earned)} / ${exact(s.share)}`);
  if (s.combine === 'weights') return line(name, detail, `${short(s.percent)} × ${exact(s.share)}`);
  return line(name, detail, percents(s.percent));
}

export function extra(s: Of<'extra'>, w: Wording): Line {
  const how =
    s.combine === 'points'
      ? `extra credit: ${exact(s.earned)} of ${exact(s.base)} points`
      : `extra credit: ${exact(s.percent ?? ZERO)} × ${exact(s.share)} / ${exact(s.base)}`;
  const parts = [...againWords(s.again), ...(s.filled ? ['not done; it takes nothing away'] : []), how];
  return line(nameOf(s.node, s.again?.of ?? null, w), parts.join('; '), `+ ${figure(s.adds)}`);
}

export function childOpen(s: Of<'child-open'>, w: Wording): Line {
  const name = nameOf(s.node, s.again?.of ?? null, w);
  if (s.why === 'left-out')
    return line(name, s.state === 'excused' ? 'excused: does not count' : 'does not count here', '', 'quiet');
  if (s.state === 'pending') return line(name, 'waits to be marked', 'to mark', 'quiet');
  if (s.state === 'awaiting') return line(name, 'still expected', 'awaited', 'quiet');
  if (s.state === 'missing') return line(name, 'missing; its rule leaves it out', 'missing', 'quiet');
  const shared =
    s.combine === 'weights' ? `nothing yet: its ${short(s.weight)} is shared out among the rest` : 'nothing yet';
  return line(name, shared, 'open', 'quiet');
}

export function together(s: Of<'together'>): Line {
  const plus = s.extra.n === 0 ? '' : `with ${exact(s.extra)} of extra credit`;
  return line('Together', [howOf(s), plus, exactly(s.percent)].filter(Boolean).join('; '), percents(s.percent), 'sum');
}

function howOf(s: Of<'together'>): string {
  switch (s.combine) {
    case 'points':
      return `${exact(s.earned)} of ${exact(s.shares)} points`;
    case 'equal':
      return 'the mean of those above, each alike';
    case 'median':
      return 'the one in the middle, by size; of two in the middle their mean';
    case 'decaying':
      return `one after the other: each new one makes ${exactPercent(s.newest ?? HUNDRED)} of it, what went before the rest`;
    case 'weights':
      return `the sum of those above, divided by ${exact(s.shares)}, the weight that counts so far`;
  }
}

export function extraLimit(s: Of<'extra-limit'>): Line {
  const says = s.bites ? `together ${exactPercent(s.together)}, and no more than this counts` : 'does not bite';
  return line('Extra credit at most', says, exactPercent(s.most), s.bites ? 'cost' : 'quiet');
}

export function countedAgain(s: Of<'counted-again'>, w: Wording): Line {
  const says = s.percent === null ? 'nothing yet' : s.dropped ? 'dropped there' : '';
  return line(`Counted again in ${w.name(s.group)}`, says, s.percent === null ? '' : percents(s.percent), 'quiet');
}

const MODES = { 'half-up': 'a half goes up', 'half-even': 'a half goes to the even one', down: 'always down' } as const;

export const bent = (s: Of<'then'>): Line => line('Then', thenWords(s), percents(s.to));

function thenWords({ then: t, from, to }: Of<'then'>): string {
  const whole = exactly(to);
  return [bentWords(t, exactPercent(from)), whole].filter(Boolean).join('; ');
}

function bentWords(t: Then, from: string): string {
  if (t.step !== undefined) return `${from} to the next multiple of ${t.step} %, ${MODES[t.mode!]}`;
  const pairs = t.through ?? t.steps!;
  const few = pairs.length <= 6 ? pairs : [...pairs.slice(0, 3), ...pairs.slice(-3)];
  if (t.through) return `${from} on the line through ${few.map(([x, y]) => `${x} → ${y}`).join(', ')}`;
  return `${from} in steps: ${few.map(([x, y]) => `from ${x} % it is ${y} %`).join(', ')}`;
}
