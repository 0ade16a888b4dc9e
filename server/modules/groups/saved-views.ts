import type { SavedView } from '@contract/groups';
import type { Db } from '../../kernel/database';
import type { Who } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { viewsOf, writeView } from './sql';

/** Views that one person may keep of one book. */
const VIEWS = 60;

/** Keeps a way of looking at the ledger for one person; gives all of theirs. */
export async function saveView(db: Db, { school, book, person }: Who, view: SavedView): Promise<SavedView[]> {
  const views = await viewsOf(db, school, book, person);
  if (views.length >= VIEWS && !views.some((v) => v.id === view.id))
    throw new Refusal('bad-request', `There are ${VIEWS} views already. Take one away first.`);
  await writeView(db, school, book, person, view);
  return viewsOf(db, school, book, person);
}
