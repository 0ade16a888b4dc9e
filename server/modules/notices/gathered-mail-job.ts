import { counted, formOf } from '@core/words/count';
import { transaction } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import { putMails } from '../mail';
import { nameMail, schoolsWithArrivals, ungatheredOf } from './sql';

/** Writes to staff what came in since the last time, at most once an hour, one mail to each. */
export const gatheredMailJob: JobKind<JobData> = {
  name: 'gathered-mail',
  attempts: 5,
  firstPauseSeconds: 60,
  timeLimitSeconds: 600,
  keyOf: ({ school }) => school,
  sweep: { everySeconds: 60, due: schoolsWithArrivals },
  run: ({ pool }, { school }) =>
    transaction(pool, async (db) => {
      const byPerson = new Map<string, Awaited<ReturnType<typeof ungatheredOf>>>();
      for (const n of await ungatheredOf(db, school)) byPerson.set(n.person, [...(byPerson.get(n.person) ?? []), n]);
      for (const [person, arrivals] of byPerson) {
        const books = new Map<string, number>();
        for (const a of arrivals) books.set(a.bookTitle, (books.get(a.bookTitle) ?? 0) + 1);
        const n = arrivals.length;
        const lines = [...books].map(([title, count]) => `${title}: ${counted(count, 'piece')}`);
        const [mail] = await putMails(db, school, [
          {
            ...{ person, kind: 'gathered', path: n === 1 ? arrivals[0]!.path : '/desk' },
            subject: `${counted(n, 'piece')} of work came in`,
            body: `Since the last mail ${counted(n, 'piece')} of work ${formOf(n, 'has', 'have')} come in.\n\n${lines.join('\n')}`,
          },
        ]);
        await nameMail(
          db,
          school,
          arrivals.map((a) => a.id),
          mail!,
        );
      }
    }),
};
