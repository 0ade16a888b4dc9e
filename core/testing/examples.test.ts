import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { checkBook, readBook } from '../book/checks/check';
import { computeBook } from '../calculation/result';
import { plainResult } from './reference';

const folder = join(dirname(fileURLToPath(import.meta.url)), 'examples');
const read = (name: string): string => readFileSync(join(folder, name), 'utf8');
const books = readdirSync(folder).filter((f) => f.endsWith('.book.json'));

describe('the worked examples of the contract', () => {
  it('are all here', () => expect(books.length).toBe(33));

  it.each(books.filter((b) => !b.includes('refused')))('%s gives its result', (name) => {
    const checked = readBook(read(name));
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
    const result: unknown = JSON.parse(read(name.replace('.book.', '.result.')));
    expect(computeBook(checked.book)).toEqual(result);
    expect(plainResult(checked.book)).toEqual(result);
  });

  it.each(books.filter((b) => b.includes('refused')))('%s is refused with every pointer listed beside it', (name) => {
    const checked = readBook(read(name));
    const pointers = checked.ok ? [] : checked.problems.map((p) => p.at).sort();
    expect(pointers).toEqual(JSON.parse(read(name.replace('.book.', '.pointers.'))));
  });
});

describe('the examples in the format’s pages', () => {
  const docs = join(folder, '..', '..', '..', 'docs', 'formats');
  const jsonOf = (page: string): unknown[] =>
    [...readFileSync(join(docs, page), 'utf8').matchAll(/```json\n(.*?)```/gs)].map(
      (m) => JSON.parse(m[1]!) as unknown,
    );

  it('are sound, and give what stands there', () => {
    const [smallest, parts] = jsonOf('book.md');
    const checked = checkBook(smallest);
    if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
    expect(computeBook(checked.book)).toEqual(jsonOf('result.md')[0]);
    expect(checkBook({ ...(smallest as object), ...(parts as object), entries: [] })).toMatchObject({ ok: true });
  });
});
