import { canonical } from '@core/book/canonical';
import type { Curve } from '@core/book/document';
import {
  allowsTool,
  curveByTool,
  curved,
  meanOf,
  spreadOf,
  toolOf,
  type ClassTool,
} from '@core/statistics/class-tools';
import { putItems, type Draft, type DraftItem } from '../../draft';
import { pairWords } from '../line-word';
import type { Piece, Sentence } from '../sentence';

const KINDS: Record<ClassTool['tool'], string> = {
  mean: 'moves to a mean of',
  spread: 'moves to a mean and a standard deviation of',
  root: 'counts ten times the square root of its percentage',
};

const markedOf = (draft: Draft, i: DraftItem): readonly number[] => draft.class?.marked.get(i.id) ?? [];
const twoDecimals = (x: number): number => Math.round(x * 100) / 100;

/** What a tool first asks for: the class as it is, in whole points. */
function firstTool(kind: string, marked: readonly number[]): ClassTool | null {
  switch (kind) {
    case 'mean':
      return { tool: 'mean', mean: Math.round(meanOf(marked)) };
    case 'spread':
      return { tool: 'spread', mean: Math.round(meanOf(marked)), spread: Math.max(1, Math.round(spreadOf(marked))) };
    case 'root':
      return { tool: 'root' };
    default:
      return null;
  }
}

/** The curve that a kind of tool begins with; null: it is no tool's kind, or the class does not allow it. */
export function freshByTool(kind: string, draft: Draft, i: DraftItem): Curve | null {
  const marked = markedOf(draft, i);
  const tool = firstTool(kind, marked);
  return tool && curveByTool(tool, marked, i.points);
}

/** The tools that the class allows, and the one in force. */
export const toolChoices = (
  draft: Draft,
  i: DraftItem,
  tool: ClassTool | null,
): { value: ClassTool['tool']; text: string }[] =>
  (Object.keys(KINDS) as ClassTool['tool'][])
    .filter((value) => value === tool?.tool || (i.points > 0 && allowsTool(value, markedOf(draft, i))))
    .map((value) => ({ value, text: KINDS[value] }));

/** What is asked for, and what it comes to. */
export function toolDetails(draft: Draft, i: DraftItem, curve: Curve, tool: ClassTool): Piece[] {
  if (tool.tool === 'root') return [];
  const marked = markedOf(draft, i);
  const ask = (label: string, value: number, set: (value: number) => ClassTool): Piece =>
    curveByTool(tool, marked, i.points) === null
      ? String(value)
      : {
          kind: 'number',
          label: `${label} of ${i.title}`,
          value,
          least: 0,
          most: 1_000_000,
          set: (v) => putItems(draft, [i.id], { curve: curveByTool(set(v), marked, i.points)! }),
        };
  const mean = ask('Mean', tool.mean, (v) => ({ ...tool, mean: v }));
  if (curve.kind === 'add')
    return [mean, `points: ${Math.abs(curve.points)} points ${curve.points < 0 ? 'fewer' : 'more'} for everybody`];
  if (tool.tool !== 'spread' || curve.kind !== 'line') return [mean, 'points'];
  const spread = ask('Standard deviation', tool.spread, (v) => ({ ...tool, spread: v }));
  return [mean, 'and', spread, `points: ${pairWords(curve.through)}`];
}

/** Says when the class is no longer the one that a curve was worked out from. */
export function movedSince(draft: Draft, i: DraftItem): Sentence[] {
  const { curve } = i.settings;
  const tool = toolOf(curve);
  if (!curve || !tool) return [];
  const marked = markedOf(draft, i);
  const again = curveByTool(tool, marked, i.points);
  if (again === null || canonical(again) === canonical(curve)) return [];
  const is = marked.map((m) => curved(curve, m, i.points));
  const now = `its mean is now ${twoDecimals(meanOf(is))}`;
  return [
    {
      id: `curve of ${i.id} since`,
      onlyHere: true,
      touches: [i.id],
      depth: 1,
      pieces: [
        tool.tool === 'root'
          ? `${i.title} is out of ${i.points} points since.`
          : `${i.title}’s class has moved since: ${now}${tool.tool === 'spread' ? `, its standard deviation ${twoDecimals(spreadOf(is))}` : ''}.`,
        {
          kind: 'act',
          text: 'move it again',
          label: `Move ${i.title} again`,
          does: () => putItems(draft, [i.id], { curve: again }),
        },
      ],
    },
  ];
}
