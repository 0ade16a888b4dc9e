import { putJob } from '../../kernel/jobs';
import type { Db } from '../../kernel/database';
import { mailQueue } from './mail-queue';
import { insertMails, type NewMail } from './sql';

/** Puts mails in on the connection of the write that they tell of: they go exactly when that is kept. Gives their ids. */
export async function putMails(db: Db, school: string, mails: readonly NewMail[]): Promise<string[]> {
  if (mails.length === 0) return [];
  const ids = await insertMails(db, school, mails);
  await putJob(db, mailQueue, { school });
  return ids;
}
