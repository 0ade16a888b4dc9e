import { compileBook } from '@core/calculation/compiled/compile';
import type { BookDocument } from '@core/book/document';
import { needLines } from '@core/working/need-sentences';
import { needsOf } from '@core/working/needs';
import type { Line } from '@core/working/sentences';

/** What is asked: of a document with one student in it, what a letter would need. */
export interface NeedsQuestion {
  document: BookDocument;
  titles: Readonly<Record<string, string>>;
  letter: string;
}

/** What each open item would have to bring for the letter, as lines; none: nothing is open, or no score changes it. */
export function needsFor({ document, titles, letter }: NeedsQuestion): Line[] {
  const needs = needsOf(compileBook(document), 0, letter);
  return needLines(needs, { timeZone: document.timeZone, name: (id) => titles[id] ?? id });
}
