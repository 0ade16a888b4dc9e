import { PendingStore } from './pending-store';
import { PendingQueues } from './pending-writes';

/** What waits of one person. Another who signs in has their own: nothing is ever sent in somebody else's name. */
export interface Owner {
  person: string;
  store: PendingStore;
  waiting: PendingQueues;
  /** One's own last writes may be newer than what the sheet showed when something was typed. */
  versions: Map<string, number>;
}

export const ownerOf = (person: string): Owner => ({
  person,
  store: new PendingStore(person),
  waiting: new PendingQueues(),
  versions: new Map(),
});
