import { readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { readBook, type Checked } from '@core/book/check';
import { computeBook } from '@core/calculation/result';

const HELP = `tally: works out grades from book documents (last-tally.book/1)

  tally compute FILE     the result of one book, as JSON; FILE may be - for standard input
  tally compute --lines [FILE]
                         one book to a line in, one result to a line out
  tally check FILE       only the problems of a book
  tally --help           this text

Exit code 0: done. 2: the book was refused; its problems are on standard error, as JSON.`;

function read(file: string): string {
  return readFileSync(file === '-' ? 0 : file, 'utf8');
}

const problemsOf = (checked: Checked & { ok: false }): { problems: unknown[]; more?: number } =>
  checked.more > 0 ? { problems: checked.problems, more: checked.more } : { problems: checked.problems };

function refuse(checked: Checked & { ok: false }): number {
  process.stderr.write(JSON.stringify(problemsOf(checked), null, 1) + '\n');
  return 2;
}

function compute(file: string): number {
  const checked = readBook(read(file));
  if (!checked.ok) return refuse(checked);
  process.stdout.write(JSON.stringify(computeBook(checked.book), null, 1) + '\n');
  return 0;
}

async function computeLines(file: string | undefined): Promise<number> {
  const { createReadStream } = await import('node:fs');
  const input = file === undefined || file === '-' ? process.stdin : createReadStream(file);
  for await (const line of createInterface({ input, crlfDelay: Infinity })) {
    if (line.trim() === '') continue;
    const checked = readBook(line);
    const out = JSON.stringify(checked.ok ? computeBook(checked.book) : problemsOf(checked)) + '\n';
    if (!process.stdout.write(out)) await new Promise((done) => process.stdout.once('drain', done));
  }
  return 0;
}

async function main(words: string[]): Promise<number> {
  const [command, ...rest] = words;
  if (command === '--help' || command === 'help') {
    process.stdout.write(HELP + '\n');
    return 0;
  }
  if (command === 'compute' && rest[0] === '--lines') return computeLines(rest[1]);
  if (command === 'compute' && rest.length === 1) return compute(rest[0]!);
  if (command === 'check' && rest.length === 1) {
    const checked = readBook(read(rest[0]!));
    if (!checked.ok) return refuse(checked);
    process.stdout.write('{"problems": []}\n');
    return 0;
  }
  process.stderr.write(HELP + '\n');
  return 2;
}

main(process.argv.slice(2)).then(
  (code) => (process.exitCode = code),
  (error: NodeJS.ErrnoException) => {
    process.stderr.write(
      JSON.stringify({ problems: [{ at: '', says: `The file could not be read: ${error.message}` }] }) + '\n',
    );
    process.exitCode = 2;
  },
);
