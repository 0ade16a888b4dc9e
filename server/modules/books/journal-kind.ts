import type { TSchema } from '@sinclair/typebox';
import type { JournalKind } from '@contract/history';
import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';
import type { BatchLine } from '../../kernel/journal/sql/batches';
import type { LineContent, Who } from '../../kernel/journal/sql/lines';
import type { BookNow } from './book-now';

/** Under which word the journal's page finds lines. */
export type JournalTopic =
  'scores' | 'submissions' | 'letters' | 'notes' | 'rules' | 'assessments' | 'releases' | 'people' | 'settings';

/**
 * What open pages of a book do about a line: take over the cell or the note that they are sent, load the book anew, or
 * hear that something beside the sheet has changed, or what somebody’s work was given;
 * `quiet`: nothing, since they hear of it by itself.
 */
export type LiveScope = 'cell' | 'note' | 'document' | 'beside' | 'marking' | 'quiet';

/** Lines of one way, opened to be put back: what their places hold now, and how they become what they were. */
export interface OpenPutBack {
  /** What a line says its place holds after it. */
  said(line: BatchLine): string | null;
  /** What its place holds now, as the journal would write it. */
  text(line: BatchLine): string | null;
  /** Makes its place what it was before; gives the line that says so. */
  put(db: BookTransaction, line: BatchLine, reason: string): Promise<LineContent>;
  /** Writes what was gathered. */
  finish?(db: BookTransaction): Promise<void>;
}

/** How lines are put back. Kinds that share a way are opened together. */
export interface PutBackWay {
  /** Whether the book as a whole is to be checked after it. */
  frame: boolean;
  /** `now`: the book without its cells, read once for all ways. */
  open(db: Db, who: Who, lines: BatchLine[], now: () => Promise<BookNow>): Promise<OpenPutBack>;
}

/** A kind of line as its capability registers it. */
export interface JournalKindDefinition {
  kind: JournalKind;
  /** Of `format`; a line of another version is never written over. */
  version: number;
  /**
   * What `was` and `becomes` hold, as JSON: ids, numbers, moments, states, hashes, and words of the book itself. What people
   * write, and their names, stand beside, by id, so that they can be taken out.
   */
  format: TSchema;
  topic: JournalTopic;
  live: LiveScope;
  /** Only the teachers of a book put it back. */
  managed: boolean;
  /** How it is put back; a sentence: why it never is. */
  putBack: PutBackWay | string;
  /** Why something that was made new is not put back; null: it is, as if nothing had been there. */
  madeNew: string | null;
}

export const CANNOT = 'Such a change cannot be put back from the journal.';
export const MADE_NEW =
  'What was made new is not put back: an assessment is put away, and a student moved out, on their own pages.';
export const NOT_PUT_BACK = { putBack: CANNOT, madeNew: CANNOT, managed: true } as const;

/** All kinds of lines, by their name. */
export class JournalKinds {
  private readonly byKind: ReadonlyMap<string, JournalKindDefinition>;

  constructor(readonly all: readonly JournalKindDefinition[]) {
    this.byKind = new Map(all.map((d) => [d.kind, d]));
  }

  /** Undefined: a newer server wrote it. */
  find(kind: string): JournalKindDefinition | undefined {
    return this.byKind.get(kind);
  }

  /** What open pages do about a line; of a kind that nobody here knows, they load the book anew. */
  liveScope(kind: string): LiveScope {
    return this.find(kind)?.live ?? 'document';
  }

  inTopic(topic: string): JournalKind[] | null {
    const kinds = this.all.filter((d) => d.topic === topic).map((d) => d.kind);
    return kinds.length > 0 ? kinds : null;
  }

  /** Why a line is not put back; null: it can be. */
  refusal(line: { kind: string; was: string | null; becomes: string | null }): string | null {
    const definition = this.find(line.kind);
    if (!definition) return CANNOT;
    if (typeof definition.putBack === 'string') return definition.putBack;
    return line.was === null || line.becomes === null ? definition.madeNew : null;
  }

  /** How a line that is not refused is put back. */
  wayOf(line: { kind: string }): PutBackWay {
    const way = this.find(line.kind)?.putBack;
    if (way === undefined || typeof way === 'string')
      throw new Error(`a line of the kind ${line.kind} is not put back`);
    return way;
  }
}
