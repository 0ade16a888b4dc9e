import { listed } from '@core/words/count';
import type { Place } from '@core/policy/deviations';
import type { PolicyArea } from '@core/policy/document';
import type { Draft } from '../draft';

/** A number inside a sentence. `least`, `most`: what may be typed. */
export interface NumberPiece {
  kind: 'number';
  label: string;
  value: number;
  unit?: string;
  least?: number;
  most?: number;
  whole?: boolean;
  set(value: number): Draft;
}

/** One word out of a few. */
export interface ChoicePiece {
  kind: 'choice';
  label: string;
  value: string;
  choices: { value: string; text: string }[];
  /** What holds where the word is not shown, since there is nothing to choose. */
  unsaid?: string;
  set(value: string): Draft;
}

/** Any of several: "Saturdays and Sundays". `none` stands where nothing is chosen. */
export interface ManyPiece {
  kind: 'many';
  label: string;
  value: string[];
  choices: { value: string; text: string }[];
  none: string;
  set(value: string[]): Draft;
}

/** Words that are typed. What cannot be taken is said, and stays in the box. */
export interface WordPiece {
  kind: 'word';
  label: string;
  value: string;
  /** What stands where nothing is typed. */
  none?: string;
  set(text: string): Draft | { message: string };
}

/** Small words that do something to the sentence. */
export interface ActPiece {
  kind: 'act';
  text: string;
  label: string;
  does(): Draft;
}

export type Piece = string | NumberPiece | ChoicePiece | ManyPiece | WordPiece | ActPiece;

/** One rule in words. */
export interface Sentence {
  id: string;
  pieces: Piece[];
  /** How far it is set in. */
  depth?: number;
  /** Begins a new paragraph with a heading above it. */
  heading?: string;
  /** JSON pointers into the book document; a warning that begins with one of them stands beside the sentence. */
  about?: string[];
  /** Ids of the assessments that it touches. */
  touches?: string[];
  /** What a school can say of it too; `silent`: what it says is in other sentences. */
  shared?: { matter: PolicyArea; place: Place; silent?: true };
  /** Only in words: there is nothing to change. */
  quiet?: boolean;
  /** It serves the page alone (a name, a choice that leads on), and says nothing on paper. */
  onlyHere?: boolean;
}

export interface Part {
  id: string;
  title: string;
  /** What the part is about, with what follows from the rules as they are. */
  lead(draft: Draft): string;
  sentences(draft: Draft): Sentence[];
}

export const manyText = (p: ManyPiece): string =>
  p.value.length === 0 ? p.none : listed(p.choices.filter((c) => p.value.includes(c.value)).map((c) => c.text));

export const choiceText = (p: ChoicePiece): string => p.choices.find((c) => c.value === p.value)?.text ?? p.value;

/** A piece's words on paper; small acts have none. */
function pieceText(p: Piece): string {
  if (typeof p === 'string') return p;
  switch (p.kind) {
    case 'number':
      return `${p.value}${p.unit ?? ''}`;
    case 'choice':
      return choiceText(p);
    case 'many':
      return manyText(p);
    case 'word':
      return p.value || (p.none ?? '');
    case 'act':
      return '';
  }
}

/** Text that begins with one of these stands right behind the word before it. */
export const STICKS = /^[,.;:)’”]/;

/** The sentence as it is printed. */
export function plainWords(s: Sentence): string {
  let out = '';
  for (const text of s.pieces.map(pieceText))
    if (text !== '')
      out += (out === '' || STICKS.test(text) || out.endsWith('(') || out.endsWith('“') ? '' : ' ') + text;
  return out;
}

/** What each changeable word of some sentences says, to be told what differs from now. */
export function valuesOf(sentences: readonly Sentence[]): Map<string, string> {
  const out = new Map<string, string>();
  for (const s of sentences)
    for (const p of s.pieces)
      if (typeof p !== 'string' && p.kind !== 'act') out.set(`${s.id} ${p.label}`, String(p.value));
  return out;
}
