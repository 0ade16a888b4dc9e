import type { Desk } from '@contract/overview';
import type { Db } from '../../../kernel/database';
import { personName } from '../../accounts';
import { nameless } from '../../hidden-names';
import { brokenIn } from '../sql/broken';

/** Files of these books that broke off, by student and assessment, the longest first. */
export async function brokenUploads(db: Db, school: string, books: readonly string[]): Promise<Desk['broken']> {
  if (books.length === 0) return [];
  const broken = (await brokenIn(db, school, books)).map(({ family, given, announced, received, ...b }) => ({
    ...b,
    whose: personName({ family, given }),
    share: Math.floor((100 * received) / Math.max(1, announced)),
  }));
  return nameless(db, school, broken, (b, whose) => ({ ...b, whose }));
}
