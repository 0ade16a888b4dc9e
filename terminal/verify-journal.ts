import { readFileSync } from 'node:fs';
import { verifyJournals, type Verified } from '../server/kernel/journal/seals';
import { openPool } from '../server/kernel/database';
import { sealsOf } from '../server/kernel/journal/sql/seals';
import { write } from './output';

const USAGE = `tally verify-journal [--known FILE]

Looks through the journals of the database that DATABASE_URL names, or that the start command keeps. A line for each
book: school/book, lines, the last seal, and whether it is as it was written. FILE is an earlier answer of this command:
each seal in it must still stand. Exit code 0: all is as it was written. 1: something is not. 2: it could not be looked at.
`;

/** A seal that was noted down earlier: up to which line, and its hash. */
interface Known {
  school: string;
  book: string;
  line: number;
  hash: string;
}

function readKnown(file: string): Known[] {
  return readFileSync(file, 'utf8')
    .split('\n')
    .flatMap((text) => {
      const m = /^([^/\s]+)\/(\S+) (\d+) ([0-9a-f]{64}) /.exec(text);
      return m ? [{ school: m[1]!, book: m[2]!, line: Number(m[3]), hash: m[4]! }] : [];
    });
}

const lineOf = (v: Verified): string => {
  const seal = v.hash === '' ? 'not-sealed-yet' : v.hash;
  const open = v.open > 0 && v.faults.length === 0 ? `, ${v.open} lines too new to be sealed` : '';
  const says = v.faults.length === 0 ? `as it was written${open}` : `NOT as it was written: ${v.faults.join('; ')}`;
  return `${v.school}/${v.book} ${v.lines - v.open} ${seal} ${v.title}: ${says}\n`;
};

/** Writes what was found on standard output; gives the exit code. */
export async function verifyJournal(databaseUrl: string, words: string[]): Promise<number> {
  if (words.length !== 0 && !(words.length === 2 && words[0] === '--known')) {
    process.stderr.write(USAGE);
    return 2;
  }
  const known = words[1] === undefined ? [] : readKnown(words[1]);
  if (words[1] !== undefined && known.length === 0) {
    process.stderr.write(`${words[1]} holds no seal of an earlier answer.\n`);
    return 2;
  }
  const pool = openPool(databaseUrl, 2);
  try {
    const found = await verifyJournals(pool);
    for (const k of known) {
      const v = found.find((f) => f.school === k.school && f.book === k.book);
      const seals = await sealsOf(pool, k.school, k.book);
      if (!v) await write(`${k.school}/${k.book}: NOT as it was written: the book is gone\n`);
      else if (!seals.some((s) => s.last === k.line && s.hash === k.hash))
        v.faults.push(`the seal up to line ${k.line} is not the one that was noted`);
    }
    for (const v of found) await write(lineOf(v));
    const gone = known.some((k) => !found.some((f) => f.school === k.school && f.book === k.book));
    return gone || found.some((v) => v.faults.length > 0) ? 1 : 0;
  } finally {
    await pool.end();
  }
}
