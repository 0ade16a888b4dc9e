import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import type { Notices } from '@contract/notices';
import { NO_FAULTS, type Faults } from '../../../../stand-ins/mail/smtp';
import { startMailStandIn, type MailStandIn } from '../../../../stand-ins/mail/stand-in';
import { operation } from '../../../testing/person';
import { testSchool, type TestSchool } from '../../../testing/school';
import { smtpSender } from '../../mail';

let standIn: MailStandIn;
let school: TestSchool;
beforeAll(async () => {
  standIn = await startMailStandIn({ smtp: 0, page: 0 });
  const settings = {
    server: `smtp://127.0.0.1:${standIn.smtp}`,
    from: 'tally@tarn.example',
    publicAddress: 'https://tally.tarn.example',
  };
  school = await testSchool(() => smtpSender(settings, 3_000));
});
afterAll(async () => {
  await school.close();
  await standIn.close();
});
afterEach(() => standIn.server.setFaults(NO_FAULTS));

let score = 1;
/** Releases something new to everybody, twice by the same operation, as over a lost answer. */
async function releaseToAll(): Promise<void> {
  score += 0.25;
  const version = async (enrolment: string): Promise<number> => {
    const sql = `select version from entry where assessment = 'moss' and enrolment = $1`;
    return (await school.pool.query<{ version: number }>(sql, [enrolment])).rows[0]?.version ?? 0;
  };
  for (const id of [school.adaId, school.benId]) await school.put('moss', id, await version(id), { kind: 'score', points: score }); // prettier-ignore
  const write = {
    operation: operation(),
    assessment: 'moss',
    enrolments: [school.adaId, school.benId],
    moveRules: true,
  };
  const done = await school.teacher.must('POST', '/books/fens/release', write);
  expect(await school.teacher.must('POST', '/books/fens/release', write)).toEqual(done);
}

/** The queue is worked off, with its pauses over. */
async function workOff(rounds: number): Promise<void> {
  for (let n = 0; n < rounds; n++) {
    await school.doJobs();
    await school.pool.query(`update mail set next_try_at = now() where state = 'waiting'`);
  }
}

/** Of what came in since: how many Message-IDs each address has. */
const identities = (): Record<string, number> => {
  const ids = new Map<string, Set<string>>();
  for (const m of standIn.mailbox.all()) ids.set(m.to, (ids.get(m.to) ?? new Set()).add(m.messageId));
  return Object.fromEntries([...ids].map(([to, all]) => [to, all.size]));
};

const EACH_ONCE = { 'ada@tarn.example': 1, 'ben@tarn.example': 1 };

describe('whoever is told of a release', () => {
  it.each<[string, Faults, Record<string, number>]>([
    ['that answers', NO_FAULTS, EACH_ONCE],
    ['that is down', { ...NO_FAULTS, down: true }, {}],
    ['that is slow', { ...NO_FAULTS, slow: 0.1 }, EACH_ONCE],
    ['that refuses one address', { ...NO_FAULTS, refuses: ['ada@tarn.example'] }, { 'ben@tarn.example': 1 }],
    // What was taken in without a word is sent again as the same mail.
    ['that never answers', { ...NO_FAULTS, silent: true }, {}],
  ])('has one mail by one Message-ID, with a mail server %s, and once it answers', async (_how, faults, meanwhile) => {
    standIn.mailbox.clear();
    await school.pool.query('delete from mail');
    await standIn.server.setFaults(faults);
    await releaseToAll();
    await workOff(2);
    expect(identities()).toMatchObject(meanwhile);
    for (const n of Object.values(identities())) expect(n).toBe(1);
    await standIn.server.setFaults(NO_FAULTS);
    const { mails } = await school.office.must<{ mails: { id: string }[] }>('GET', '/undelivered');
    if (mails.length > 0) await school.office.must('POST', '/undelivered/send', { mails: mails.map((m) => m.id) });
    await workOff(3);
    expect(identities()).toEqual(EACH_ONCE);
    const [mail] = standIn.mailbox.all();
    // It says that there is something, never what.
    expect(mail!.text).toContain('https://tally.tarn.example/my/fens?slip=moss');
    expect(mail!.text + mail!.subject).not.toMatch(/\d\.\d/);
  });

  it('has one notice of each release', async () => {
    const told = (await school.ada.must<Notices>('GET', '/my/notices')).filter((n) => n.path === '/my/fens?slip=moss');
    expect(told).toHaveLength(5);
  });
});
