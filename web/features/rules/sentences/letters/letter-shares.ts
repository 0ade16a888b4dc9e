import { edgesByShares, sharesOf } from '@core/statistics/class-tools';
import type { Draft } from '../../draft';
import { bandsOf, putBands, putScale, scaleOf } from './scales';
import type { Piece, Sentence } from '../sentence';

/** The scale with its edges found from the class as it is. */
function byShares(draft: Draft, shares: number[]): Draft {
  const edges = edgesByShares(percentsOf(draft), shares);
  const bands = bandsOf(draft).map((b, n) => ({ ...b, from: edges[n] ?? 0 }));
  return putScale(draft, { bands, info: { tool: 'shares', shares } });
}

const percentsOf = (draft: Draft): readonly number[] =>
  draft.class?.percents[scaleOf(draft)?.lookUp ?? 'rounded'] ?? [];

/** What share of the class each letter but the last has now, in whole percents. */
function sharesNow(draft: Draft): number[] {
  const percents = percentsOf(draft);
  const edges = bandsOf(draft).map((b) => b.from);
  const least = (n: number): number => percents.filter((p) => p >= edges[n]!).length;
  return edges
    .slice(0, -1)
    .map((_, n) => Math.round((100 * (least(n) - (n === 0 ? 0 : least(n - 1)))) / percents.length));
}

/** Where each letter begins so that so many of the class have it. Said only where there is a class. */
export function shareSentences(draft: Draft): Sentence[] {
  const scale = scaleOf(draft);
  const bands = bandsOf(draft);
  if (!scale || bands.length < 2 || bands.at(-1)!.from !== 0) return [];
  const shares = sharesOf(scale);
  const percents = percentsOf(draft);
  if (!shares && percents.length === 0) return [];
  const share = (s: number, n: number): Piece[] => [
    percents.length === 0
      ? `${s} %`
      : {
          kind: 'number',
          label: `Share of the class with ${bands[n]!.label}`,
          value: s,
          unit: ' %',
          least: 0,
          most: 100,
          set: (value) =>
            byShares(
              draft,
              shares!.map((was, i) => (i === n ? value : was)),
            ),
        },
    `${n === 0 ? 'of the class have' : 'have'} ${bands[n]!.label}${n < bands.length - 2 ? ', then' : ','}`,
  ];
  const shared = { matter: 'letters', place: { kind: 'rule', name: draft.rules.scale! }, silent: true } as const;
  const sentences: Sentence[] = [
    {
      id: 'letters by shares',
      shared,
      onlyHere: shares === null,
      pieces: [
        'Letters begin',
        {
          kind: 'choice',
          label: 'How it is found where letters begin',
          value: shares ? 'shares' : 'typed',
          choices: [
            { value: 'typed', text: 'where it is typed' },
            { value: 'shares', text: 'where the class is so shared out that' },
          ],
          set: (to) => (to === 'shares' ? byShares(draft, sharesNow(draft)) : putBands(draft, scale.bands)),
        },
        ...(shares ? [...shares.flatMap(share), `and all others ${bands.at(-1)!.label}.`] : ['.']),
      ],
    },
  ];
  if (shares && percents.length > 0) {
    const edges = edgesByShares(percents, shares);
    const n = edges.findIndex((e, i) => e !== bands[i]!.from);
    if (n >= 0)
      sentences.push({
        id: 'letters by shares since',
        shared,
        onlyHere: true,
        pieces: [
          `The class has moved since: ${bands[n]!.label} would begin at ${edges[n]} %.`,
          { kind: 'act', text: 'find them again', label: 'Find again where letters begin', does: () => byShares(draft, shares) }, // prettier-ignore
        ],
      });
  }
  return sentences;
}
