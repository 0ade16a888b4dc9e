import { bookSchema } from '@core/book/schema';
import { resultSchema } from '@core/book/result-schema';
import { compare, warnings } from './compare';
import { check, compute, computeLines } from './compute';
import { explain } from './explain';
import { refuseWith, write } from './output';

const HELP = `tally: works out grades from book documents (last-tally.book/1)

  tally compute FILE            the result of one book, as JSON
  tally compute --lines [FILE]  one book to a line in, one result to a line out
  tally check FILE              only the problems of a book
  tally warnings FILE           rules that together do what nobody would expect
  tally compare A B             who moves from book A to book B, and through what, as JSON
  tally explain FILE STUDENT [ITEM]
                                the working as text: of the standing and all below it, or of one item or group
  tally schema [book|result]    the JSON Schema (2020-12) of the documents
  tally verify-journal [--known FILE]
                                looks through every journal of the database: nothing altered, nothing gone
  tally --help                  this text

FILE may be - for standard input. Exit code 0: done. 2: a book was refused, or the call could not be understood;
what is wrong is on standard error (problems of a book as JSON).
`;

async function schema(which: string | undefined): Promise<number> {
  const all = { book: bookSchema, result: resultSchema };
  if (which !== undefined && which !== 'book' && which !== 'result')
    return refuseWith(`There is no document “${which}”: book or result.`);
  await write(JSON.stringify(which === undefined ? all : all[which], null, 1) + '\n');
  return 0;
}

async function main(words: string[]): Promise<number> {
  const [command, ...rest] = words;
  const [a, b, c] = rest;
  if (command === '--help' || command === '-h' || command === 'help') {
    await write(HELP);
    return 0;
  }
  if (command === 'compute' && a === '--lines' && rest.length <= 2) return computeLines(b ?? '-');
  if (command === 'compute' && rest.length === 1) return compute(a!);
  if (command === 'check' && rest.length === 1) return check(a!);
  if (command === 'warnings' && rest.length === 1) return warnings(a!);
  if (command === 'compare' && rest.length === 2) return compare(a!, b!);
  if (command === 'explain' && (rest.length === 2 || rest.length === 3)) return explain(a!, b!, c);
  if (command === 'schema' && rest.length <= 1) return schema(a);
  process.stderr.write(HELP);
  return 2;
}

// A reader that has seen enough (head, a pager) is no failure.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  process.exit(error.code === 'EPIPE' ? 0 : 1);
});
main(process.argv.slice(2)).then(
  (code) => (process.exitCode = code),
  (error: Error) => {
    process.stderr.write(`tally met a fault of its own: ${error.stack ?? error.message}\n`);
    process.exitCode = 1;
  },
);
