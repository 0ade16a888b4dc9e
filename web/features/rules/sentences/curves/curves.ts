import type { Curve } from '@core/book/document';
import { toolOf } from '@core/statistics/class-tools';
import { groupsDeep, itemsIn, putItems, titleOf, type Draft, type DraftItem } from '../../draft';
import { freshByTool, movedSince, toolChoices, toolDetails } from './curve-tools';
import type { Part, Piece, Sentence } from '../sentence';

const KINDS = [
  { value: 'none', text: 'counts as marked' },
  { value: 'add', text: 'gets more points:' },
  { value: 'less', text: 'gets fewer points:' },
  { value: 'top', text: 'has full marks at' },
  { value: 'line', text: 'follows a line:' },
];

const kindOf = (c: Curve | null | undefined): string =>
  !c ? 'none' : (toolOf(c)?.tool ?? (c.kind === 'add' && c.points < 0 ? 'less' : c.kind));

function fresh(kind: string, points: number): Curve | undefined {
  switch (kind) {
    case 'add':
      return { kind: 'add', points: 1 };
    case 'less':
      return { kind: 'add', points: -1 };
    case 'top':
      return { kind: 'top', at: points };
    case 'line':
      return {
        kind: 'line',
        through: [
          [0, 0],
          [points / 2, points / 2],
          [points, points],
        ],
      };
    default:
      return undefined;
  }
}

function details(draft: Draft, i: DraftItem, curve: Curve): Piece[] {
  const set = (next: Curve): Draft => putItems(draft, [i.id], { curve: next });
  const number = (label: string, value: number, to: (v: number) => Draft, least = 0): Piece => ({
    kind: 'number',
    label: `${label} of ${i.title}`,
    value,
    least,
    most: 1_000_000,
    set: to,
  });
  if (curve.kind === 'add')
    return [
      number('Points that the curve moves', Math.abs(curve.points), (v) =>
        set({ kind: 'add', points: curve.points < 0 && v !== 0 ? -v : v }),
      ),
    ];
  if (curve.kind === 'top')
    return [
      number('Points that are full marks', curve.at, (at) => set({ kind: 'top', at }), 0.0001),
      `points of ${i.points}`,
    ];
  const { through } = curve;
  return through.flatMap(([x, y], n): Piece[] => {
    const at = (point: [number, number]): Draft =>
      set({ kind: 'line', through: through.map((p, j): [number, number] => (j === n ? point : p)) });
    return [
      number(`Point ${n + 1}, marked`, x, (v) => at([v, y])),
      'become',
      number(`Point ${n + 1}, counts`, y, (v) => at([x, v])),
      ...(through.length > 2
        ? [
            {
              kind: 'act' as const,
              text: 'less',
              label: `Take point ${n + 1} of ${i.title} away`,
              does: () => set({ kind: 'line', through: through.filter((_, j) => j !== n) }),
            },
          ]
        : []),
      ...(n < through.length - 1 ? [','] : []),
    ];
  });
}

/** One point more, half-way up the longest stretch of the line. */
export function onePointMore(through: [number, number][]): [number, number][] {
  let longest = 1;
  for (let n = 2; n < through.length; n++)
    if (through[n]![0] - through[n - 1]![0] > through[longest]![0] - through[longest - 1]![0]) longest = n;
  const [[x1, y1], [x2, y2]] = [through[longest - 1]!, through[longest]!];
  const half = (a: number, b: number): number => Math.round(((a + b) / 2) * 10_000) / 10_000;
  return [...through.slice(0, longest), [half(x1, x2), half(y1, y2)], ...through.slice(longest)];
}

function sentence(draft: Draft, i: DraftItem): Sentence {
  const curve = i.settings.curve ?? null;
  const tool = toolOf(curve);
  return {
    id: `curve of ${i.id}`,
    onlyHere: curve === null,
    about: [`/node/${i.id}/curve`],
    touches: [i.id],
    pieces: [
      i.title,
      {
        kind: 'choice',
        label: `Curve of ${i.title}`,
        value: kindOf(curve),
        choices: [...KINDS, ...toolChoices(draft, i, tool)],
        set: (kind) => putItems(draft, [i.id], { curve: freshByTool(kind, draft, i) ?? fresh(kind, i.points) }),
      },
      ...(curve ? (tool ? toolDetails(draft, i, curve, tool) : details(draft, i, curve)) : []),
      '.',
      ...(curve?.kind === 'line' && !tool
        ? [
            {
              kind: 'act' as const,
              text: 'one point more',
              label: `One point more for ${i.title}`,
              does: () => putItems(draft, [i.id], { curve: { kind: 'line', through: onePointMore(curve.through) } }),
            },
          ]
        : []),
    ],
  };
}

export const CURVES: Part = {
  id: 'curves',
  title: 'Curves',
  lead: () => 'A curve changes the points marked before lateness and caps. The picture shows the one you are on.',
  sentences: (draft) =>
    groupsDeep(draft.rules.tree).flatMap(({ group }) =>
      itemsIn(draft, group.id).flatMap((i, n): Sentence[] => [
        { ...sentence(draft, i), ...(n === 0 ? { heading: titleOf(draft, group) } : {}) },
        ...movedSince(draft, i),
      ]),
    ),
};
