import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { computeBook } from '../calculation/result';
import type { BookDocument } from '../book/document';

const GUIDE = new URL('../../docs/guide/rules/', import.meta.url);
const EXAMPLES = new URL('./examples/', import.meta.url);

describe('the guide to the rules', () => {
  for (const page of readdirSync(GUIDE))
    it(`says of ${page.replace('.md', '')} what the core works out`, () => {
      const text = readFileSync(new URL(page, GUIDE), 'utf8').replace(/\s+/g, ' ');
      // Each worked figure stands in bold behind the name of its example.
      const worked = [...text.matchAll(/\(example ([\w-]+)\)(.*?)(?=\(example |$)/g)];
      expect(worked.length).toBeGreaterThan(0);
      for (const [, name, says] of worked) {
        const book = JSON.parse(readFileSync(new URL(`${name}.book.json`, EXAMPLES), 'utf8')) as BookDocument;
        const figures = [...says!.matchAll(/\*\*(\d+(?:\.\d+)?)\*\*/g)].map((m) => m[1]);
        expect(figures.length).toBeGreaterThan(0);
        const percents = computeBook(book).students.map((s) => s.percent);
        for (const figure of figures) expect(percents).toContain(figure);
      }
    });
});
