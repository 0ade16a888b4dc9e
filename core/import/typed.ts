import { percentOfPoints, shareOfPoints, type CellChange } from '../book/change';

/** What a typed or brought-in cell means. `refused` carries the sentence; nothing ever turns into a number silently. */
export type Typed =
  { kind: 'blank' } | { kind: 'change'; change: CellChange; above: boolean } | { kind: 'refused'; message: string };

export interface TypedContext {
  /** The points of the assessment. */
  points: number;
  /** Labels of the assessment's named marks; empty where it has none. */
  marks: readonly string[];
  /** In a file: what the column's full marks are, where it is rescaled to the assessment's points. */
  outOf?: number;
}

/** "excused - ill since Monday": what is typed into a cell, and the reason after a dash with spaces around it. */
export function splitReason(source: string): { text: string; reason: string } {
  const m = /^(.*?\S)\s+[-–—]\s+(\S.*?)\s*$/s.exec(source);
  return m ? { text: m[1]!, reason: m[2]!.slice(0, 500) } : { text: source, reason: '' };
}

/** The states that can be typed, by the word that people read (states.md). */
export const STATE_WORDS = [
  { word: 'excused', state: 'excused' },
  { word: 'missing', state: 'missing' },
  { word: 'awaited', state: 'awaiting' },
] as const;

/** The words that begin as typed: states and the assessment's own marks. At least two letters for a state. */
export function completions(typed: string, marks: readonly string[]): string[] {
  const start = typed.trim().toLocaleLowerCase();
  if (start === '') return [];
  const states = start.length < 2 ? [] : STATE_WORDS.map((s) => s.word).filter((w) => w.startsWith(start));
  return [...marks.filter((m) => m.toLocaleLowerCase().startsWith(start)), ...states];
}

const NUMBER = /^\d{1,10}(?:[.,]\d{0,12})?$|^[.,]\d{1,12}$/;
const toNumber = (text: string): number => Number(text.replace(',', '.'));
const decimals = (text: string): number => /[.,](\d*)$/.exec(text)?.[1]?.replace(/0+$/, '').length ?? 0;

/** Reads one cell as typed: "17", "17,5", "85%", "17/20", "ex…", "mi…", "aw…" or a named mark. */
export function readTyped(source: string, context: TypedContext): Typed {
  const text = source.normalize('NFKC').trim();
  if (text === '') return { kind: 'blank' };
  const refused = (says: string): Typed => ({ kind: 'refused', message: says });
  const score = (points: number): Typed => ({
    kind: 'change',
    change: { kind: 'score', points },
    above: points > context.points,
  });

  const mark = context.marks.find((m) => m.toLocaleLowerCase() === text.toLocaleLowerCase());
  if (mark !== undefined) return { kind: 'change', change: { kind: 'mark', label: mark }, above: false };

  if (NUMBER.test(text)) {
    if (decimals(text) > 4) return refused(`“${source.trim()}” has more than four decimals.`);
    const value = toNumber(text);
    if (value > 1_000_000) return refused(`“${source.trim()}” is larger than any score can be.`);
    return score(
      context.outOf === undefined || context.outOf === context.points
        ? value
        : shareOfPoints(value, context.outOf, context.points),
    );
  }
  const percent = /^(.+?)\s*%$/.exec(text);
  if (percent && NUMBER.test(percent[1]!) && decimals(percent[1]!) <= 4) {
    const value = toNumber(percent[1]!);
    return value > 10_000
      ? refused(`“${source.trim()}” is more than any score can be.`)
      : score(percentOfPoints(value, context.points));
  }
  const share = /^(.+?)\s*\/\s*(.+)$/.exec(text);
  if (
    share &&
    NUMBER.test(share[1]!) &&
    NUMBER.test(share[2]!) &&
    decimals(share[1]!) <= 4 &&
    decimals(share[2]!) <= 4
  ) {
    const whole = toNumber(share[2]!);
    return whole === 0
      ? refused(`“${source.trim()}” divides by 0.`)
      : score(shareOfPoints(toNumber(share[1]!), whole, context.points));
  }
  const words = completions(text, context.marks);
  if (words.length > 1) return refused(`“${source.trim()}” could be ${words.join(' or ')}: type one letter more.`);
  const word = STATE_WORDS.find((s) => s.word === words[0]);
  if (word) return { kind: 'change', change: { kind: 'state', state: word.state }, above: false };
  if (words[0] !== undefined) return { kind: 'change', change: { kind: 'mark', label: words[0] }, above: false };
  if (/^-/.test(text)) return refused(`“${source.trim()}” is negative; a score cannot be.`);
  return refused(`“${source.trim()}” is not a score, a percentage, a fraction or a state.`);
}
