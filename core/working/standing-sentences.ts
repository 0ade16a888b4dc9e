import { formOf, listed } from '../words/count';
import { subtract, toText } from '../exact/fraction';
import { nameOf } from './group-sentences';
import { exactPercent, line, type Line, type Of, type Wording } from './lines';
import { count, exact } from './wording';

/** The sentences of a standing's own steps: its variant of the rules, hurdles, and what is counted. */
export function variant(s: Of<'variant'>, w: Wording): Line {
  const own = [...(s.hasWeights ? ['weights'] : []), ...(s.letters === 'own' ? ['letters'] : [])];
  const parts = [
    ...(own.length > 0 ? [`with ${listed(own)} of its own`] : []),
    ...(s.letters === 'none' ? ['with no letters'] : []),
    ...(s.leftOut.length > 0 ? [`without ${listed(s.leftOut.map((n) => nameOf(n.node, n.again, w)))}`] : []),
  ];
  return line(`Rules for “${s.name}”`, parts.join('; ') || 'as for everybody', '', 'quiet');
}

export function hurdle(s: Of<'hurdle'>, w: Wording): Line {
  const name = nameOf(s.node, s.again, w);
  const rule = s.atLeast === null ? `${name} must be handed in` : `${name} must reach ${exactPercent(s.atLeast)}`;
  if (s.waits) return line('Hurdle', `${rule}; it is not all marked yet, so it waits`, '', 'quiet');
  if (s.atLeast === null) {
    if (!s.failed) return line('Hurdle', `${rule}; it is not missing`, 'met', 'quiet');
    return line('Hurdle', `${rule}; it is missing, so ${consequence(s, w)}`, figureOf(s), 'cost');
  }
  if (s.reached === null) return line('Hurdle', `${rule}; it does not count for this student`, '', 'quiet');
  if (!s.failed) return line('Hurdle', `${rule}; it has ${exactPercent(s.reached)}`, 'met', 'quiet');
  return line('Hurdle', `${rule}; it has ${exactPercent(s.reached)}, so ${consequence(s, w)}`, figureOf(s), 'cost');
}

function consequence(s: Of<'hurdle'>, w: Wording): string {
  if (s.letter !== null) return `the letter is ${s.letter}`;
  if (s.capNode !== null) {
    const of = nameOf(s.capNode, s.capAgain, w);
    return s.capAt === null
      ? `the whole is at most what ${of} is, which has no figure yet`
      : `the whole is at most what ${of} is, ${exactPercent(s.capAt)}`;
  }
  if (s.capLetter !== null)
    return s.capAt === null
      ? `the letter is at most ${s.capLetter}, and no letter of this scale is above it`
      : `the letter is at most ${s.capLetter}: at most ${exactPercent(s.capAt)}`;
  return `the whole is at most ${exactPercent(s.capAt!)}`;
}

function figureOf(s: Of<'hurdle'>): string {
  if (!s.bit) return 'not met';
  return s.letter ?? (s.capAt === null ? 'not met' : exactPercent(s.capAt));
}

export function counts(s: Of<'count'>, w: Wording): Line {
  const name = w.name(s.node);
  const takes = s.percent === null ? `${count(s.letters)} ${formOf(s.letters, 'band', 'bands')} of the letter` : exactPercent(s.percent); // prettier-ignore
  const each = toText(s.each) === '1' ? 'each' : `every ${exact(s.each)}`;
  const rule = `${each} beyond ${exact(s.over)} takes ${takes}${s.most === null ? '' : `, at most ${s.most} times`}`;
  if (s.earned === null) return line(name, `nothing counted; ${rule}`, '', 'quiet');
  if (s.times.n === 0) return line(name, `${exact(s.earned)}; ${rule}`, '', 'quiet');
  const beyond = `${exact(s.earned)}, ${exact(subtract(s.earned, s.over))} beyond ${exact(s.over)}`;
  const figure = s.percent === null ? `− ${exact(s.times)} × ${takes}` : `− ${exact(s.times)} × ${exactPercent(s.percent)}`; // prettier-ignore
  return line(name, `${beyond}; ${rule}`, figure, 'cost');
}
