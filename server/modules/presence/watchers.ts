import type { LiveEvent, PersonHere } from '@contract/presence';
import { personName } from '../accounts';
import { Names, type Veil } from '../hidden-names';
import type { Present } from './sql';
import { toldTo } from './veiled-events';

/** Who a stream is for. */
export interface Follower {
  school: string;
  person: string;
  /** Under which they are signed in: once that ends, nothing is told any more. */
  session: string;
  /** Which of their windows it is, where it says so: it has one stream, and the next takes the place of one that is dead. */
  window: string | null;
}

export const isSameWindow = (a: Follower, b: Follower): boolean =>
  a.window !== null && a.window === b.window && a.person === b.person && a.session === b.session;

/** One stream: all that is told to the pages of one browser. */
export interface Stream extends Follower {
  watchers: Set<Watcher>;
  send(event: LiveEvent): void;
  end(): void;
}

/** A book that a stream follows, or one assessment of it without names. */
export interface Watcher extends Follower {
  connection: string;
  book: string;
  /** What its page calls it. */
  address: string;
  veil: Veil | null;
  seq: number;
  stream: Stream;
}

/** A stream's place among those that are told. */
export interface StreamPlace {
  leave(): Promise<void>;
}

export const keyOf = ({ school, book }: { school: string; book: string }): string => `${school} ${book}`;

/** All pages of this server that have one book open. */
export interface Room {
  school: string;
  book: string;
  watchers: Set<Watcher>;
  reading: boolean;
  again: boolean;
}

/** Who has the book open beside a watcher: themselves in no other window either. */
export const othersThan = (w: Watcher, present: readonly Present[]): PersonHere[] =>
  present
    .filter((p) => p.connection !== w.connection && p.person !== w.person)
    .map((p) => ({
      ...{ connection: p.connection, name: personName(p) },
      ...{ enrolment: p.enrolment, assessment: p.assessment },
    }));

/** Sends a watcher what of an event may be told to them. */
export function sendTo(w: Watcher, hidden: ReadonlySet<string>, event: LiveEvent): void {
  const told = toldTo(event, w.address, new Names(hidden, w.veil));
  if (told) w.stream.send(told);
}

/** Sends each watcher of a room what is after its own line, and moves it on. */
export function tellRoom(
  room: Room,
  hidden: ReadonlySet<string>,
  upTo: number,
  event: (w: Watcher) => LiveEvent | null,
  moveTo = upTo,
): void {
  for (const w of room.watchers) {
    if (w.seq >= upTo) continue;
    const e = event(w);
    w.seq = moveTo;
    if (e) sendTo(w, hidden, e);
  }
}
