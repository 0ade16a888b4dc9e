import { isSet, type PendingWrite } from './pending-writes';

/** How a write stands. */
interface Standing {
  /** It waits for a choice. */
  isStuck(w: PendingWrite): boolean;
  /** It is the first in line for each of its cells. */
  isFirst(w: PendingWrite): boolean;
  isSending(w: PendingWrite): boolean;
  /** The server broke at it, or has left it without an answer for long. */
  isHeldUp(w: PendingWrite): boolean;
}

/**
 * The writes whose turn it is. They go one after the other, as they were made: the last that was made is the last in the
 * journal, where undo looks for it. One that the server broke at, or leaves without an answer, holds up no single cell, only
 * a set, which comes after all before it.
 */
export function nextToSend(waiting: readonly PendingWrite[], is: Standing): PendingWrite[] {
  const next: PendingWrite[] = [];
  let isHeld = false;
  let isAny = false;
  for (const w of waiting.toSorted((a, b) => a.order - b.order)) {
    if (is.isStuck(w)) continue;
    const isFirst = is.isFirst(w);
    if (!is.isSending(w) && isFirst && !(isSet(w) ? isAny : isHeld)) next.push(w);
    if (isSet(w)) break;
    isAny = true;
    isHeld ||= isFirst && !is.isHeldUp(w);
  }
  return next;
}
