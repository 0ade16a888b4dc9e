import { cellKey } from '@contract/wire/cell-key';
import { parseMoment } from '@core/time/moment';
import { canonical } from '@core/book/canonical';
import { changeCell, type CellChange, type EntryContent } from '@core/book/change';
import type { EntryState } from '@contract/scores';
import { type CellRow } from './sql';
import { type LineContent } from '../journal/sql/lines';

/** A change of one cell, and the version of it that was seen. */
export interface WantedCell {
  assessment: string;
  enrolment: string;
  version: number;
  change: CellChange;
}

export type CellPlace = Pick<WantedCell, 'assessment' | 'enrolment'>;

export const cellKeyOf = (c: CellPlace): string => cellKey(c.enrolment, c.assessment);
export const emptyCell = ({ assessment, enrolment }: CellPlace): CellRow => ({
  assessment,
  enrolment,
  version: 0,
  content: {},
  handedIn: [],
  releaseState: 0,
});

/** A cell as it crosses the wire. */
export const stateOf = (c: CellRow, seq: number): EntryState => ({
  assessment: c.assessment,
  enrolment: c.enrolment,
  version: c.version,
  entry: c.content,
  releaseState: c.releaseState,
  seq,
});
/** A moment in the one form in which the database gives it back; what is none stays for the check to refuse. */
function moment(at: string): string {
  const millis = parseMoment(at);
  return millis === null ? at : new Date(millis).toISOString();
}

/**
 * A cell's content in the form in which it is kept, so that equal contents are equal texts: moments as the database gives
 * them back, and nothing of what is not so.
 */
export function toStoredContent(content: EntryContent): EntryContent {
  const out = { ...content };
  if (out.protected === false) delete out.protected;
  if (out.dueAt !== undefined) out.dueAt = moment(out.dueAt);
  if (out.closesAt !== undefined) out.closesAt = moment(out.closesAt);
  if (out.attempts)
    out.attempts = out.attempts.map(({ onTime, ...a }) => ({
      ...a,
      ...(a.receivedAt !== undefined && { receivedAt: moment(a.receivedAt) }),
      ...(onTime && { onTime }),
    }));
  return out;
}

/** The same of a line's text: lines of other days may write a moment in another way. */
export const toStoredText = (text: string): string =>
  text.includes('At"') ? canonical(toStoredContent(JSON.parse(text) as EntryContent)) : text;

/** What a cell is after a change, one version on. */
export function nextCell(r: CellRow, change: CellChange): CellRow {
  const content = toStoredContent(changeCell(r.content, change));
  const handedIn = (content.attempts ?? []).map((_, n) => r.handedIn[n] === true);
  const next: CellRow = { ...r, version: r.version + 1, content, handedIn };
  if (r.releaseState === 0) return next;
  const released = r.released ?? canonical(r.content);
  return { ...next, releaseState: canonical(content) === released ? 1 : 2, released };
}

/** The journal line of a cell's change. */
export const cellLine = (was: CellRow, is: CellRow): LineContent => ({
  kind: 'cell',
  assessment: was.assessment,
  enrolment: was.enrolment,
  was: canonical(was.content),
  becomes: canonical(is.content),
});
/** The operation id of the i-th line of a write. */
export const operationOf = (operation: string, i: number): string => (i === 0 ? operation : `${operation}.${i}`);
