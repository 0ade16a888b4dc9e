import { cellKeyOf } from '../cells/cell';
import { createHash } from 'node:crypto';
import type pg from 'pg';
import { readCells } from '../cells/sql';
import { canonical } from '@core/book/canonical';
import { transaction, type Db } from '../database';
import { toStoredText } from '../cells/cell';
import { type SealedLine, booksWithLines, insertSeal, maySeal, sealedLines, sealsOf, sealStateOf } from './sql/seals';
import { cellsAfter } from './sql/lines';

/** Lines in one block at most. */
const BLOCK = 2_000;

/** The hash of a block: SHA-256 over the hash before it and each line as JSON, with a line feed after each. */
export function sealOf(before: string, lines: SealedLine[]): string {
  const hash = createHash('sha256').update(`${before}\n`);
  for (const line of lines) hash.update(`${JSON.stringify(line)}\n`);
  return hash.digest('hex');
}

/** Seals the lines of one book that are not yet, unless another server is at it; gives how many blocks were made. */
export function sealJournal(pool: pg.Pool, school: string, book: string): Promise<number> {
  return transaction(pool, async (db) => {
    if (!(await maySeal(db, school, book))) return 0;
    const state = await sealStateOf(db, school, book);
    const { seq } = state;
    let { block, sealed, hash } = state;
    let made = 0;
    while (sealed < seq) {
      const last = Math.min(sealed + BLOCK, seq);
      const lines = await sealedLines(db, school, book, sealed + 1, last);
      hash = sealOf(hash, lines);
      block++;
      await insertSeal(db, { school, book, block, first: sealed + 1, last, hash });
      sealed = last;
      made++;
    }
    return made;
  });
}

/** What a look at one book's journal found. `faults` empty: every line is as it was sealed. */
export interface Verified {
  school: string;
  book: string;
  title: string;
  lines: number;
  /** Lines written too lately to be sealed. */
  open: number;
  hash: string;
  faults: string[];
}

/**
 * Looks through every journal: numbers without gaps, blocks that follow each other, hashes that are those of the lines,
 * and cells that hold what their last line says.
 */
export async function verifyJournals(db: Db): Promise<Verified[]> {
  const all: Verified[] = [];
  for (const b of await booksWithLines(db)) {
    const faults: string[] = [];
    if (b.lines !== b.seq) faults.push(`it should have ${b.seq} lines and has ${b.lines}`);
    let hash = '';
    let next = 1;
    for (const s of await sealsOf(db, b.school, b.book)) {
      if (s.first !== next)
        faults.push(`the seal before line ${s.first} is gone: lines from ${next} on are not sealed`);
      const lines = await sealedLines(db, b.school, b.book, s.first, s.last);
      if (sealOf(hash, lines) !== s.hash)
        faults.push(`lines ${s.first} to ${s.last} are not as they were sealed (block ${s.block})`);
      hash = s.hash;
      next = s.last + 1;
    }
    if (next - 1 > b.seq) faults.push(`lines after ${b.seq} were sealed and are gone`);
    faults.push(...(await strayCells(db, b.school, b.book, b.seq)));
    all.push({
      school: b.school,
      book: b.book,
      title: b.title,
      lines: b.lines,
      open: Math.max(0, b.seq - next + 1),
      hash,
      faults,
    });
  }
  return all;
}

/** Cells that do not hold what their last line says. */
async function strayCells(db: Db, school: string, book: string, seq: number): Promise<string[]> {
  const said = new Map((await cellsAfter(db, school, book, seq)).map((c) => [cellKeyOf(c), c.becomes]));
  const strays: string[] = [];
  for (const c of await readCells(db, school, book)) {
    const key = cellKeyOf(c);
    if (canonical(c.content) !== toStoredText(said.get(key) ?? '{}')) strays.push(key);
    said.delete(key);
  }
  strays.push(...said.keys());
  return strays.length === 0
    ? []
    : [`${strays.length} cells do not hold what their last line says (the first: ${strays.sort()[0]})`];
}
