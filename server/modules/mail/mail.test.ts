import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import type { Undelivered } from '@contract/mail';
import { startMailStandIn, type MailStandIn } from '../../../stand-ins/mail/stand-in';
import { NO_FAULTS } from '../../../stand-ins/mail/smtp';
import { testSchool, type TestSchool } from '../../testing/school';
import { MOST_TRIES } from './mail-job';
import { putMails, smtpSender } from '.';

let standIn: MailStandIn;
let school: TestSchool;
let persons: Map<string, string>;
beforeAll(async () => {
  standIn = await startMailStandIn({ smtp: 0, page: 0 });
  const settings = {
    server: `smtp://127.0.0.1:${standIn.smtp}`,
    from: 'tally@tarn.example',
    publicAddress: 'https://tally.tarn.example',
  };
  school = await testSchool(() => smtpSender(settings, 3_000));
  const { rows } = await school.pool.query<{ login: string; id: string }>('select login, id from person');
  persons = new Map(rows.map((r) => [r.login, r.id]));
});
afterAll(async () => {
  await school.close();
  await standIn.close();
});
afterEach(async () => {
  await standIn.server.setFaults(NO_FAULTS);
  await school.pool.query('delete from mail');
  standIn.mailbox.clear();
});

const put = (...logins: string[]): Promise<string[]> =>
  putMails(
    school.pool,
    'tarn',
    logins.map((l) => ({
      person: persons.get(l)!,
      kind: 'letter',
      subject: 'Reed',
      body: `Dear ${l}`,
      path: '/my/fens',
    })),
  );
const states = async (): Promise<string[]> => {
  const sql = `select p.login, m.state, m.tries from mail m join person p on p.id = m.person and p.school = m.school order by p.login`;
  return (await school.pool.query<{ login: string; state: string; tries: number }>(sql)).rows.map((r) => `${r.login} ${r.state} ${r.tries}`); // prettier-ignore
};
/** The pause before the next try is over. */
const wait = () => school.pool.query(`update mail set next_try_at = now() where state = 'waiting'`);
const undelivered = (): Promise<Undelivered> => school.office.must<Undelivered>('GET', '/undelivered');

describe('mail', () => {
  it('reaches each once, from the school, with a link to where it leads', async () => {
    const [id] = await put('ada', 'ben');
    await school.doJobs();
    await school.doJobs();
    expect(await states()).toEqual(['ada sent 1', 'ben sent 1']);
    const [ada, ben] = standIn.mailbox.all().sort((a, b) => a.to.localeCompare(b.to));
    expect([ben!.to, ada!.to, ada!.times]).toEqual(['ben@tarn.example', 'ada@tarn.example', 1]);
    expect(ada!.messageId).toBe(`<${id}.tarn@tarn.example>`);
    expect(ada!.from).toBe('"Tarn School" <tally@tarn.example>');
    expect(ada!.text).toBe('Dear ada\n\nhttps://tally.tarn.example/my/fens\n');
  });

  it('waits while the server is down, with pauses that grow, and goes when it is back', async () => {
    await standIn.server.setFaults({ ...NO_FAULTS, down: true });
    await put('ada', 'ben');
    const pauses: number[] = [];
    for (let n = 0; n < 3; n++) {
      await school.doJobs();
      const { rows } = await school.pool.query<{ s: number }>(
        'select extract(epoch from next_try_at - now())::float8 as s from mail order by next_try_at desc limit 1',
      );
      pauses.push(rows[0]!.s);
      await wait();
    }
    // Nobody is tried twice where the server does not answer the first.
    expect(await states()).toEqual(['ada waiting 3', 'ben waiting 3']);
    expect(pauses[1]! / pauses[0]!).toBeGreaterThan(1.8);
    expect(pauses[2]! / pauses[1]!).toBeGreaterThan(1.8);
    expect(await undelivered()).toMatchObject({ waiting: 2, inAll: 0, mails: [] });
    await standIn.server.setFaults(NO_FAULTS);
    await school.doJobs();
    expect(standIn.mailbox.all().map((m) => m.times)).toEqual([1, 1]);
  });

  it('that is refused holds up no other, is not tried again, and comes before the office with the reason', async () => {
    await standIn.server.setFaults({ ...NO_FAULTS, refuses: ['ada@tarn.example'] });
    await school.pool.query(`update person set mail = '' where login = 'cleo'`);
    await put('ada', 'ben', 'cleo');
    await school.doJobs();
    await wait();
    await school.doJobs();
    expect(await states()).toEqual(['ada refused 1', 'ben sent 1', 'cleo refused 1']);
    const { mails } = await undelivered();
    expect(mails.map((m) => m.fault).sort()).toEqual([
      'The mail server said: 550 nobody of that name is here',
      'This person has no mail address.',
    ]);
    expect(mails.map((m) => m.to).sort()).toEqual(['A. Adler', 'C. =Crane']);
    await standIn.server.setFaults(NO_FAULTS);
    const again = mails.filter((m) => m.address !== '').map((m) => m.id);
    expect(await school.office.must('POST', '/undelivered/send', { mails: again })).toEqual({ made: 1 });
    // Asked twice, it goes once.
    expect(await school.office.must('POST', '/undelivered/send', { mails: again })).toEqual({ made: 0 });
    await school.doJobs();
    expect(await states()).toEqual(['ada sent 1', 'ben sent 1', 'cleo refused 1']);
  });

  it('whose answer is lost is sent again as the same mail', async () => {
    await standIn.server.setFaults({ ...NO_FAULTS, silent: true });
    await put('ada');
    await school.doJobs();
    expect(await states()).toEqual(['ada waiting 1']);
    await standIn.server.setFaults(NO_FAULTS);
    await wait();
    await school.doJobs();
    expect(await states()).toEqual(['ada sent 2']);
    expect(standIn.mailbox.all().map((m) => m.times)).toEqual([2]);
  });

  it('is given up after its last try, and stays for the office', async () => {
    await standIn.server.setFaults({ ...NO_FAULTS, down: true });
    await put('ada');
    await school.pool.query('update mail set tries = $1', [MOST_TRIES - 1]);
    await school.doJobs();
    expect(await states()).toEqual([`ada given-up ${MOST_TRIES}`]);
    expect(await undelivered()).toMatchObject({ inAll: 1, mails: [{ fault: 'The mail server does not answer.' }] });
  });

  it('is kept exactly when the write is that it tells of', async () => {
    const client = await school.pool.connect();
    await client.query('begin');
    await putMails(client, 'tarn', [{ person: persons.get('ada')!, kind: 'told', subject: 's', body: 'b', path: '' }]);
    await client.query('rollback');
    client.release();
    await school.doJobs();
    expect(standIn.mailbox.all()).toEqual([]);
  });

  it('is the office’s to see, and nobody else’s', async () => {
    for (const who of [school.teacher, school.marker, school.ada])
      expect((await who.send('GET', '/undelivered')).status).toBe(403);
  });
});
