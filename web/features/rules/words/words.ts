import type { Draft } from '../draft';
import { PARTS } from '../sentences';
import { plainWords, valuesOf, type Sentence } from '../sentences/sentence';

/** What one kind of rules says: its text, and what each changeable word of it says. */
export interface PartWords {
  text: string;
  values: ReadonlyMap<string, string>;
}

/** Every kind's sentences, by its id. */
export const sentencesOf = (draft: Draft | null): Map<string, Sentence[]> =>
  new Map(PARTS.map((p) => [p.id, draft ? p.sentences(draft) : []]));

export const wordsOf = (all: ReadonlyMap<string, readonly Sentence[]>): Map<string, PartWords> =>
  new Map(
    [...all].map(([id, sentences]) => [
      id,
      { text: sentences.map(plainWords).join('\n'), values: valuesOf(sentences) },
    ]),
  );

/** Sentence id → labels of its words that say something else than now. Ids are told apart over all kinds of rules. */
export function otherWords(
  draft: ReadonlyMap<string, readonly Sentence[]>,
  now: ReadonlyMap<string, PartWords>,
  is: ReadonlyMap<string, PartWords>,
): Map<string, Set<string>> {
  const out = new Map<string, Set<string>>();
  for (const [part, sentences] of draft) {
    const [was, will] = [now.get(part)!, is.get(part)!];
    if (was.text === will.text) continue;
    for (const s of sentences)
      for (const p of s.pieces) {
        if (typeof p === 'string' || p.kind === 'act') continue;
        const key = `${s.id} ${p.label}`;
        const before = was.values.get(key) ?? (p.kind === 'choice' ? p.unsaid : undefined);
        if (before !== will.values.get(key)) out.set(s.id, (out.get(s.id) ?? new Set()).add(p.label));
      }
  }
  return out;
}
