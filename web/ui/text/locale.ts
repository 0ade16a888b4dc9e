import { signal } from '@angular/core';
import { DEFAULT_LOCALE } from '@contract/wire/constants';

/** How this person writes dates and decimals. Set where their settings become known; formats read it. */
export const locale = signal<string>(DEFAULT_LOCALE);

const decimalMarks = new Map<string, string>();

/** "," or "." */
export function decimalMark(tag: string): string {
  let mark = decimalMarks.get(tag);
  if (!mark)
    decimalMarks.set(
      tag,
      (mark = new Intl.NumberFormat(tag).formatToParts(1.5).find((p) => p.type === 'decimal')!.value),
    );
  return mark;
}

/** A number as it is worked out ("12.5", "-0.25", "87.4 %") in this person's decimals; what is no number stays. */
export function inDecimals(text: string): string {
  const mark = decimalMark(locale());
  return mark === '.' ? text : text.replace(/^([^\d]*\d+)\.(\d)/, `$1${mark}$2`);
}

/** Titles of the open book with a point between digits ("Lab 1.2"): they stay as they are written. */
export const titlesWithPoints = signal<readonly string[]>([]);
export const withPoints = (titles: readonly string[]): string[] => titles.filter((t) => /\d\.\d/.test(t));

/** A sentence of a working with its numbers in this person's decimals. */
export function figuresIn(sentence: string): string {
  const mark = decimalMark(locale());
  if (mark === '.') return sentence;
  const written = (text: string): string => text.replace(/(\d)\.(\d)/g, `$1${mark}$2`);
  const titles = titlesWithPoints();
  if (titles.length === 0) return written(sentence);
  const any = titles.map((t) => t.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')).join('|');
  return sentence
    .split(new RegExp(`(${any})`))
    .map((part, i) => (i % 2 === 1 ? part : written(part)))
    .join('');
}
