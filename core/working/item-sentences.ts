import { counted, formOf } from '../words/count';
import { exactPercent, line, type Line, type Of, type Wording } from './lines';
import { count, exact, figure, moment, ordinal, span } from './wording';

/** The longer sentences of an item's steps. */
export function late(s: Of<'late'>, w: Wording): Line {
  const units = formOf(s.units ?? 0, s.unit, `${s.unit}s`);
  const label = s.counted === null ? `Late ${s.units} ${units}, said by hand` : `Late ${span(s.counted)}`;
  const parts: string[] = [];
  const base = s.of === 'possible' ? `of ${exact(s.base)}` : `of the ${exact(s.base)} earned`;
  if (s.closed?.isMore) {
    const says = `it closed ${moment(w.timeZone, s.closed.at)}; what comes after that loses ${exactPercent(s.percent)} ${base}`;
    return line('After closing', says, `− ${figure(s.deduction)}`, 'cost');
  }
  const started = s.counted === null ? '' : 'started ';
  if (s.fromBank > 0) return paidByBank(s, w, label, base);
  if (s.units !== null && s.deduct !== null)
    parts.push(`${s.units} ${started}${units} × ${exactPercent(s.deduct)} ${base}`);
  else parts.push(`this step takes ${exactPercent(s.percent)} ${base}`);
  if (s.limited) parts.push(`limited to ${exactPercent(s.percent)}, ${figure(s.takes)}`);
  if (s.counted !== null && s.graceMinutes > 0) parts.push(`past ${s.graceMinutes} min of grace`);
  if (s.skipped > 0) parts.push(`${span(s.skipped)} on days that do not count left out`);
  if (s.due !== null) parts.push(`due ${moment(w.timeZone, s.due)}`);
  if (s.closed) parts.push(`after it closed ${moment(w.timeZone, s.closed.at)}`);
  return line(label, parts.join(', '), `− ${figure(s.deduction)}`, 'cost');
}

/** Lateness of which the bank of late units pays all or some. */
function paidByBank(s: Of<'late'>, w: Wording, label: string, base: string): Line {
  const units = s.units!;
  const rest = units - s.fromBank;
  const [one, many] = [`started ${s.unit}`, `started ${s.unit}s`];
  const parts = [`${counted(units, one, many)}, ${count(s.fromBank)} of them from the bank`];
  if (rest > 0) parts.push(`${counted(rest, one, many)} × ${exactPercent(s.deduct!)} ${base}`);
  if (s.limited) parts.push(`limited to ${exactPercent(s.percent)}, ${figure(s.takes)}`);
  if (s.skipped > 0) parts.push(`${span(s.skipped)} on days that do not count left out`);
  if (s.due !== null) parts.push(`due ${moment(w.timeZone, s.due)}`);
  parts.push(`${count(s.bankLeft ?? 0)} left in the bank`);
  return line(label, parts.join(', '), rest > 0 ? `− ${figure(s.deduction)}` : '', rest > 0 ? 'cost' : 'quiet');
}

export function due(s: Of<'due'>, w: Wording): Line {
  const of = { own: 'its own date', section: 'the section’s date', item: 'the assessment’s date' }[s.from];
  const parts = [`${of} ${moment(w.timeZone, s.base)}`];
  if (s.extra > 0) parts.push(`${span(s.extra)} of standing extra time`);
  if (s.allowances > 0) parts.push(`${counted(s.allowances, 'late allowance')} of ${span(s.allowance)}`);
  return line(`Due ${moment(w.timeZone, s.due)}`, parts.join(' + '), '', 'quiet');
}

export function state(s: Of<'state'>, w: Wording): Line {
  const due = s.due === null ? '' : ` It was due ${moment(w.timeZone, s.due)}.`;
  switch (s.state) {
    case 'excused':
      return line('Excused', 'Left out: it neither helps nor hurts.', '', 'quiet');
    case 'pending':
      return line('To mark', 'Work has arrived and waits to be marked. Until then it does not count.', '', 'quiet');
    case 'left-out':
      return line('Left out', 'It is not asked of this student.', '', 'quiet');
    case 'awaiting':
      return line(
        'Awaited',
        'Something is still expected, whatever the date. Until then it does not count.',
        '',
        'quiet',
      );
    case 'missing':
      return line(
        'Missing',
        s.closing ? 'The term is being closed and nothing came.' : `Nothing came.${due}`,
        '',
        'cost',
      );
    default:
      return line('Nothing yet', s.due === null ? 'No due date.' : `Due ${moment(w.timeZone, s.due)}.`, '', 'quiet');
  }
}

export function use(s: Of<'use'>): Line {
  const others = s.values
    .filter((v) => v.attempt !== s.chosen)
    .map((v) => `the ${ordinal(v.attempt)} had ${figure(v.value)}`);
  const why = {
    best: 'the best attempt counts',
    latest: 'the latest attempt counts',
    first: 'the first attempt counts',
    mean: 'the mean of all attempts counts',
    decaying: `each attempt makes ${s.percent ? exactPercent(s.percent) : ''} of it, what went before the rest`,
    regain: `the first attempt counts, with ${s.percent ? exactPercent(s.percent) : ''} of what the best later one is above it`,
  }[s.use];
  const label = `${count(s.values.length)} attempts`.replace(/^./, (c) => c.toUpperCase());
  return line(label, `${why}; ${others.join(', ')}`, figure(s.value));
}

export function curve(s: Of<'curve'>): Line {
  const c = s.curve;
  if (c.kind === 'add') {
    const does = `${c.points < 0 ? 'takes' : 'adds'} ${Math.abs(c.points)}`;
    return line('Curve', s.to.n === 0 && c.points < 0 ? `${does}, never below 0` : does, figure(s.to));
  }
  if (c.kind === 'top') return line('Curve', `${c.at} becomes full marks: × ${exact(s.of)} / ${c.at}`, figure(s.to));
  const through = c.through.length <= 6 ? c.through : [...c.through.slice(0, 3), ...c.through.slice(-3)];
  const points = through.map(([x, y]) => `${x} → ${y}`).join(', ');
  return line('Curve', `on the line through ${points}`, figure(s.to));
}
