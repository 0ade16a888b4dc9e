import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { readBook } from '../book/check';
import { computeBook } from '../calculation/result';

const folder = join(dirname(fileURLToPath(import.meta.url)), 'examples');
const read = (name: string): string => readFileSync(join(folder, name), 'utf8');
const books = readdirSync(folder).filter((f) => f.endsWith('.book.json'));

describe('the worked examples of the contract', () => {
  it('are all here', () => expect(books.length).toBe(18));

  it.each(books.filter((b) => !b.startsWith('18')))('%s gives its result', (name) => {
    const checked = readBook(read(name));
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
    expect(computeBook(checked.book)).toEqual(JSON.parse(read(name.replace('.book.', '.result.'))));
  });

  it('18 is refused with every pointer listed beside it', () => {
    const checked = readBook(read('18-refused.book.json'));
    const pointers = checked.ok ? [] : checked.problems.map((p) => p.at).sort();
    expect(pointers).toEqual(JSON.parse(read('18-refused.pointers.json')));
  });
});
