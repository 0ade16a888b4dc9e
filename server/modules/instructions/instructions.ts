import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { cleanRichText, isEmptyText, type RichText } from '@core/text/rich-text';
import { counted } from '@core/words/count';
import type {
  Handout,
  HandoutRemoval,
  HandoutWrite,
  Instructions,
  InstructionsWrite,
} from '@contract/work/instructions';
import type { Db } from '../../kernel/database';
import type { Room } from '../../kernel/config';
import type { FileStore } from '../../kernel/files/file-store';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { assessmentsOf, commitBook, type Author } from '../books';
import {
  deleteHandout,
  handoutsOf,
  insertHandout,
  insertInstruction,
  instructionOf,
  type AssessmentPlace,
} from './sql';

/** Files that go with one assessment at most, and bytes of one of them. */
const MOST_FILES = 30;
const MOST_BYTES = 1_000_000_000;

/** What an assessment asks for, with its files; as students read it those alone that are all there. */
export async function instructions(db: Db, p: AssessmentPlace): Promise<Instructions> {
  const { version, body } = await instructionOf(db, p);
  return { version, body, files: await handoutsOf(db, p) };
}

async function requireAssessment(db: Db, { school, book, assessment }: AssessmentPlace): Promise<void> {
  if (!(await assessmentsOf(db, school, book, true)).some((a) => a.id === assessment))
    throw new Refusal('not-found', 'There is no such assessment in this book.');
}

/** The same for the staff; refuses an assessment that is not there. */
export async function staffInstructions(db: Db, p: AssessmentPlace): Promise<Instructions> {
  await requireAssessment(db, p);
  return instructions(db, p);
}

const lineOf = (assessment: string, was: object | null, becomes: object): LineContent => ({
  ...{ kind: 'instructions', assessment, enrolment: null },
  was: was === null ? null : canonical(was),
  becomes: canonical(becomes),
});
const hashOf = (body: object | null): { sha256?: string } =>
  body === null ? {} : { sha256: createHash('sha256').update(JSON.stringify(body)).digest('hex') };

/** Refuses what would lose something by being cleaned: a page sends what is clean already. */
function requireRichText(body: RichText): RichText {
  const cleaned = cleanRichText(body);
  if (canonical(cleaned) !== canonical(body))
    throw new Refusal('bad-request', 'There is something in this that is no text, list or link. Nothing was changed.');
  return cleaned;
}

/** Writes what an assessment asks for; null, or no words in it: nothing. */
export function writeInstructions(
  pool: pg.Pool,
  author: Author,
  assessment: string,
  write: InstructionsWrite,
): Promise<Instructions> {
  const place = { school: author.school, book: author.book, assessment };
  return commitBook(pool, author, write.operation, async (db) => {
    await requireAssessment(db, place);
    const was = await instructionOf(db, place);
    if (was.version !== write.version)
      throw new Refusal(
        'stale',
        'Somebody else changed these words after you saw them. Yours stay here; look at theirs first.',
        {
          now: await instructions(db, place),
        },
      );
    const cleaned = write.body === null ? null : requireRichText(write.body);
    const body = cleaned === null || isEmptyText(cleaned) ? null : cleaned;
    if (canonical(body) === canonical(was.body)) return { lines: [], answer: () => instructions(db, place) };
    const version = was.version + 1;
    await insertInstruction(db, place, { version, body, person: author.person });
    const before = was.version === 0 ? null : { version: was.version, ...hashOf(was.body) };
    return {
      lines: [lineOf(assessment, before, { version, ...hashOf(body) })],
      answer: () => instructions(db, place),
    };
  });
}

/** A file is to come. Students see it once all of it is there. */
export function addHandout(
  pool: pg.Pool,
  files: FileStore,
  room: Room,
  author: Author,
  assessment: string,
  write: HandoutWrite,
): Promise<Instructions> {
  const { school, book, person } = author;
  const place = { school, book, assessment };
  return commitBook(pool, author, write.operation, async (db) => {
    await requireAssessment(db, place);
    if (Buffer.byteLength(write.name) > 255)
      throw new Refusal('bad-request', 'The name of this file is longer than a file’s name can be.');
    if (write.bytes > MOST_BYTES) throw new Refusal('bad-request', 'A file has 1 GB at most.');
    const there = await handoutsOf(db, place);
    if (there.some((f) => f.id === write.id)) throw new Refusal('already-there', 'This file is there already.');
    if (there.length >= MOST_FILES) throw new Refusal('bad-request', `${counted(MOST_FILES, 'file')} at most. Take one out first.`); // prettier-ignore
    const upload = await files.begin(db, school, person, write.bytes, room.school);
    await insertHandout(db, place, { ...write, upload });
    return {
      lines: [lineOf(assessment, null, { file: write.id, worksheet: write.worksheet })],
      answer: () => instructions(db, place),
    };
  });
}

export function removeHandout(
  pool: pg.Pool,
  author: Author,
  assessment: string,
  id: string,
  write: HandoutRemoval,
): Promise<Instructions> {
  const place = { school: author.school, book: author.book, assessment };
  return commitBook(pool, author, write.operation, async (db) => {
    const gone = await deleteHandout(db, place, id);
    return {
      lines: gone ? [lineOf(assessment, { file: id }, { file: id, removed: true })] : [],
      answer: () => instructions(db, place),
    };
  });
}

/** A file of an assessment that is all there; a student's copy of a worksheet carries their name. */
export async function handoutFile(
  db: Db,
  p: AssessmentPlace,
  id: string,
  student: string | null = null,
): Promise<{ name: string; bytes: number; sha256: string }> {
  const file = (await handoutsOf(db, p)).find((f) => f.id === id);
  if (!file || file.sha256 === null) throw new Refusal('not-found', 'There is no such file.');
  const name = file.worksheet && student !== null ? ownName(file, student) : file.name;
  return { name, bytes: file.bytes, sha256: file.sha256 };
}

function ownName({ name }: Handout, student: string): string {
  const [, base, ending] = /^(.+?)(\.[^.]{1,12})?$/.exec(name)!;
  return `${base}, ${student}${ending ?? ''}`;
}
