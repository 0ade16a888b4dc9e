import type { BookDocument } from '@core/book/document';
import { compileBook } from '@core/calculation/compiled/compile';
import { computeBook, makeResulter, resultOf } from '@core/calculation/result';
import { TOO_LARGE } from '@core/book/checks/check';
import { linesOf, open, readBytes, readDocument } from './input';
import { problemsOf, refuse, refuseWith, write, type Refusal } from './output';

/** `compute FILE`: the result of one book, a student to a line, so that no class is too large to be written. */
export async function compute(file: string): Promise<number> {
  const checked = await readDocument(file);
  if (!checked.ok) return refuse(problemsOf(checked));
  const compiled = compileBook(checked.book);
  const resulter = makeResulter(compiled);
  await write('{"format": "last-tally.result/1", "students": [');
  for (let s = 0; s < compiled.students.length; s++)
    await write(`${s === 0 ? '\n' : ',\n'}${JSON.stringify(resultOf(resulter, s))}`);
  await write(compiled.students.length === 0 ? ']}\n' : '\n]}\n');
  return 0;
}

/** `compute --lines`: one book to a line in, one result to a line out; a refused book's line is its problems. */
export async function computeLines(file: string): Promise<number> {
  try {
    for await (const line of linesOf(open(file) as AsyncIterable<Buffer>)) {
      if (line !== null && isBlank(line)) continue;
      await write(`${JSON.stringify(lineResult(line))}\n`);
    }
  } catch (error) {
    return refuseWith(`The file could not be read: ${(error as Error).message}`);
  }
  return 0;
}

const isBlank = (line: Buffer): boolean => line.length < 64 && line.toString().trim() === '';

function lineResult(line: Buffer | null): Refusal | ReturnType<typeof computeBook> {
  if (line === null) return { problems: [{ at: '', says: TOO_LARGE }] };
  const checked = readBytes(line);
  return checked.ok ? computeBook(checked.book) : problemsOf(checked);
}

/** `check FILE`: only the problems of a book. */
export async function check(file: string): Promise<number> {
  const checked = await readDocument(file);
  if (!checked.ok) return refuse(problemsOf(checked));
  await write('{"problems": []}\n');
  return 0;
}

/** Reads a sound book, or says on standard error why it is none. */
export async function soundBook(file: string): Promise<BookDocument | null> {
  const checked = await readDocument(file);
  if (checked.ok) return checked.book;
  refuse({ file, ...problemsOf(checked) });
  return null;
}
