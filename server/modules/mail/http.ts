import { SendAgainWrite, Undelivered } from '@contract/mail';
import { Made } from '@contract/wire';
import { route, type Route } from '../../http/route';
import { snapshot, transaction } from '../../kernel/database';
import { putJob } from '../../kernel/jobs';
import { personName } from '../accounts';
import { mailQueue } from './mail-queue';
import { countMails, resendMails, undeliveredOf } from './sql';

/** Mails that the office is shown at once. */
const SHOWN = 200;

export const mailRoutes: Route[] = [
  route({
    method: 'get',
    path: '/undelivered',
    permission: 'office',
    summary: 'Mail that reached nobody, with its reason, and how much waits to be sent.',
    answer: Undelivered,
    handler: ({ pool, school }) =>
      snapshot(pool, async (db) => {
        const { waiting, undelivered } = await countMails(db, school);
        const rows = await undeliveredOf(db, school, SHOWN);
        return {
          waiting,
          inAll: undelivered,
          mails: rows.map(({ family, given, ...mail }) => ({ ...mail, to: personName({ family, given }) })),
        };
      }),
  }),
  route({
    method: 'post',
    path: '/undelivered/send',
    permission: 'office',
    summary: 'Send these once more. What was delivered meanwhile, or waits already, is left as it is.',
    body: SendAgainWrite,
    answer: Made,
    handler: ({ pool, school, body }) =>
      transaction(pool, async (db) => {
        const made = await resendMails(db, school, body.mails);
        if (made > 0) await putJob(db, mailQueue, { school });
        return { made };
      }),
  }),
];
