import { assembleSkeleton } from '@core/book/assemble';
import { pointersOf } from '@core/warnings/places';
import { rulesInForce, type Draft } from '../draft';
import type { Sentence } from '../sentences/sentence';

/** Something that the core says of a place in the book document. */
export interface Said {
  at: string;
  says: string;
  kind?: string;
}

/** Where a pointer into the document leads in the page's terms: "/node/checks/drop", "/rules/late/steady". */
function placeIn(draft: Draft, pointers: [string, string][], said: Said): string {
  const found = pointers.find(([, at]) => said.at === at || said.at.startsWith(`${at}/`));
  const item = /^\/items\/(.+)$/.exec(said.at)?.[1];
  if (item !== undefined) return `/rules/marks/${draft.items.find((i) => i.id === item)?.settings.marks ?? ''}`;
  if (!found) return said.at.replaceAll('~1', '/').replaceAll('~0', '~');
  const [id, at] = found;
  if (said.kind === 'late-below-missing') return `/rules/late/${rulesInForce(draft, 'late').get(id) ?? ''}`;
  if (said.kind === 'only-extra-credit') return `/node/${id}/extra`;
  return `/node/${id}${said.at.slice(at.length)}`;
}

/** Part id and sentence id, as one text. */
export const sentenceKey = (part: string, sentence: string): string => `${part} · ${sentence}`;

/** What is said beside each sentence: with the one that stands for the place most closely. `loose`: with none. */
export function placeWarnings(
  draft: Draft,
  sentences: ReadonlyMap<string, readonly Sentence[]>,
  said: readonly Said[],
): { beside: Map<string, string[]>; loose: string[] } {
  const beside = new Map<string, string[]>();
  const loose: string[] = [];
  if (said.length === 0) return { beside, loose };
  const items = draft.items.map(({ id, points, category }) => ({
    category,
    item: { id, type: 'item' as const, points },
  }));
  const { tree } = assembleSkeleton('UTC', draft.rules, items);
  // The longest pointer first: a group's own comes after those of what lies in it.
  const pointers = [...pointersOf(tree)].sort((a, b) => b[1].length - a[1].length);
  const places = [...sentences].flatMap(([part, all]) =>
    all.flatMap((s) => (s.about ?? []).map((about) => ({ about, key: sentenceKey(part, s.id) }))),
  );
  for (const w of said) {
    const at = placeIn(draft, pointers, w);
    const fits = places.filter(({ about }) => at === about || at.startsWith(`${about}/`));
    const best = Math.max(0, ...fits.map((f) => f.about.length));
    const key = fits.find((f) => f.about.length === best)?.key;
    const list = key === undefined ? loose : (beside.get(key) ?? beside.set(key, []).get(key)!);
    if (!list.includes(w.says)) list.push(w.says);
  }
  return { beside, loose };
}
