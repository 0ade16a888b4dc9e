import type pg from 'pg';
import type { Phrases, PhraseWrite } from '@contract/work/feedback';
import { transaction, type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { phraseOf, phrasesFor, putPhrase, removePhrase, insertUse } from './sql/phrases';

/** Who asks, and in which book. */
export interface PhraseReader {
  school: string;
  book: string;
  person: string;
  /** May change the words of others in the book. */
  manages: boolean;
}

export async function phrases(db: Db, r: PhraseReader): Promise<Phrases> {
  return (await phrasesFor(db, r.school, r.book, r.person)).map(({ person, family, given, ...f }) => ({
    ...f,
    by: personName({ family, given }),
    mine: person === r.person || (r.manages && f.scope === 'book'),
  }));
}

/** Writes one: new, with other words, for others too, or takes it out. */
export function writePhrase(pool: pg.Pool, r: PhraseReader, id: string, write: PhraseWrite): Promise<Phrases> {
  return transaction(pool, async (db) => {
    const was = await phraseOf(db, r.school, id);
    if (was && was.person !== r.person && !(r.manages && was.scope === 'book' && was.book === r.book))
      throw new Refusal('not-found', 'There is no such phrase of yours.');
    if ((was?.version ?? 0) !== write.version) {
      // The same once more, whose answer was lost.
      const all = await phrases(db, r);
      const now = all.find((f) => f.id === id);
      if ((now?.words ?? null) === (write.words?.trim() ?? null) && was?.version === write.version + 1) return all;
      throw new Refusal('stale', 'This phrase was changed after you saw it. Nothing of it was overwritten.', { now: all }); // prettier-ignore
    }
    if (write.scope === 'school' && !r.manages)
      throw new Refusal('not-allowed', 'Only teachers give a phrase to the whole school. Nothing was changed.');
    if (!was && write.words === null) throw new Refusal('not-found', 'There is no such phrase of yours.');
    const version = write.version + 1;
    if (write.words === null) await removePhrase(db, r.school, id, version);
    else
      await putPhrase(db, r.school, {
        ...{ id, scope: write.scope, book: write.scope === 'book' ? r.book : null },
        ...{ person: was?.person ?? r.person, version, words: write.words.trim() },
      });
    return phrases(db, r);
  });
}

/** Counts that it was used, once for each operation. */
export function usePhrase(pool: pg.Pool, r: PhraseReader, id: string, operation: string): Promise<{ done: true }> {
  return transaction(pool, async (db) => {
    if (!(await phrases(db, r)).some((f) => f.id === id))
      throw new Refusal('not-found', 'There is no such phrase here.');
    await insertUse(db, r.school, id, operation);
    return { done: true as const };
  });
}
