import type { JobData, JobKind } from '../../kernel/jobs';
import { mailQueue } from './mail-queue';
import type { MailSender } from './smtp-sender';
import { markRefused, markSent, markTried, nextMail, schoolsWithMail } from './sql';

/** Tries in all, over about twelve hours, before the office is shown what reached nobody. */
export const MOST_TRIES = 12;

const NO_SERVER = 'No mail server is named: set MAIL_SERVER, and send it again.';

const LINK_OVER = 'The time of the link in it is over. Make a new one.';

/** Sends what waits, one after the other. `open`: how to reach the mail server; null where none is named. */
export const mailJob = (open: (() => MailSender) | null): JobKind<JobData> => ({
  ...mailQueue,
  attempts: 5,
  firstPauseSeconds: 15,
  timeLimitSeconds: 1_800,
  sweep: { everySeconds: 10, due: schoolsWithMail },
  async run({ pool, signal }, { school }) {
    const sender = open?.() ?? null;
    try {
      for (let mail = await nextMail(pool, school); mail && !signal.aborted; mail = await nextMail(pool, school)) {
        if (!sender) {
          await markRefused(pool, school, mail.id, NO_SERVER);
          continue;
        }
        if (mail.void) {
          await markRefused(pool, school, mail.id, LINK_OVER);
          continue;
        }
        const sending = await sender.send(mail);
        if (sending.done === 'sent') await markSent(pool, school, mail.id);
        else if (sending.done === 'refused') await markRefused(pool, school, mail.id, sending.fault);
        else await markTried(pool, school, mail.id, { ...sending, most: MOST_TRIES });
      }
    } finally {
      sender?.close();
    }
  },
});
