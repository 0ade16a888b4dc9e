import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { Invitations } from '@contract/accounts';
import type { Undelivered } from '@contract/mail';
import { startMailStandIn, type MailStandIn } from '../../../stand-ins/mail/stand-in';
import { NO_FAULTS } from '../../../stand-ins/mail/smtp';
import { Person } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';
import { smtpSender } from '../mail';
import { passwordLinkFor } from '.';

let standIn: MailStandIn;
let school: TestSchool;
beforeAll(async () => {
  standIn = await startMailStandIn({ smtp: 0, page: 0 });
  const settings = {
    ...{ server: `smtp://127.0.0.1:${standIn.smtp}`, from: 'tally@tarn.example' },
    publicAddress: 'https://tally.tarn.example',
  };
  school = await testSchool(() => smtpSender(settings));
});
afterAll(async () => {
  await school.close();
  await standIn.close();
});
beforeEach(async () => {
  await standIn.server.setFaults(NO_FAULTS);
  await school.pool.query('delete from mail');
  await school.pool.query('delete from invitation');
  standIn.mailbox.clear();
});

const anybody = (): Person => new Person(school.address);
const forgot = (name: string) => anybody().must<{ mails: boolean }>('POST', '/forgotten', { name });
const secretIn = (text: string): string => /\/welcome#(\S+)/.exec(text)![1]!;
const welcome = (secret: string, password: string) =>
  anybody().send<{ login: string }>('POST', '/welcome', { secret, password });

describe('somebody who forgot the password', () => {
  it('gets a link by mail, for the sign-in name or the address; it works once, and ends every session', async () => {
    const ben = await Person.signedIn(school.address, 'ben', PASSWORD);
    expect(await forgot(' BEN@tarn.example ')).toEqual({ mails: true });
    await school.doJobs();
    const [mail, ...more] = standIn.mailbox.all();
    expect([mail!.to, mail!.subject, more]).toEqual(['ben@tarn.example', 'A new password', []]);
    expect(mail!.text).toContain('https://tally.tarn.example/welcome#');
    expect(mail!.text).toContain('You sign in as ben.');
    // Who has the database does not have the link.
    const { rows } = await school.pool.query<{ all: string }>(
      `select (select json_agg(m)::text from mail m) || (select json_agg(i)::text from invitation i) as all`,
    );
    const secret = secretIn(mail!.text);
    expect(rows[0]!.all).not.toContain(secret);
    expect((await welcome(secret, 'another-one-2')).body).toEqual({ login: 'ben' });
    expect((await welcome(secret, 'another-one-3')).status).toBe(404);
    expect((await ben.send('GET', '/my/books')).status).toBe(401);
    await Person.signedIn(school.address, 'ben', 'another-one-2');
  });

  it('learns nothing of who there is, and is not sent a heap of links', async () => {
    for (const name of ['nobody', 'nobody@tarn.example', "' or true --", 'out', 'teacher'])
      expect(await forgot(name)).toEqual({ mails: true });
    await forgot('ada');
    await Promise.all([forgot('ada'), forgot('ada@tarn.example')]);
    await school.doJobs();
    // Of these only two have an address.
    expect(standIn.mailbox.all().map((m) => [m.to, m.times])).toEqual(
      expect.arrayContaining([['ada@tarn.example', 1], ['out@tarn.example', 1]]), // prettier-ignore
    );
    expect(standIn.mailbox.all()).toHaveLength(2);
    await school.pool.query(`update invitation set made_at = made_at - interval '6 minutes'`);
    await forgot('ada');
    await school.doJobs();
    const toAda = standIn.mailbox.all().filter((m) => m.to === 'ada@tarn.example');
    expect(toAda).toHaveLength(2);
    // The later one takes the place of the earlier.
    const secrets = toAda.map((m) => secretIn(m.text));
    const answers = await Promise.all(secrets.map((s) => welcome(s, 'yet-another-1')));
    expect(answers.map((a) => a.status).sort()).toEqual([200, 404]);
  });

  it('asked for by a stranger, it takes away no link that the office made', async () => {
    const { invitations } = await school.office.must<Invitations>('POST', '/invitations', { logins: ['cleo'] });
    await forgot('cleo');
    expect((await welcome(secretIn(invitations[0]!.path), 'of-the-office-1')).status).toBe(200);
    // And with a password chosen no link stands any more.
    const { rows } = await school.pool.query('select 1 from invitation');
    expect(rows).toEqual([]);
  });

  it('is sent no link whose hour is over: the office reads so', async () => {
    await standIn.server.setFaults({ ...NO_FAULTS, down: true });
    await forgot('ada');
    await school.doJobs();
    await school.pool.query(`update mail set void_at = now() - interval '1 second', next_try_at = now()`);
    await standIn.server.setFaults(NO_FAULTS);
    await school.doJobs();
    expect(standIn.mailbox.all()).toEqual([]);
    const { mails } = await school.office.must<Undelivered>('GET', '/undelivered');
    expect(mails.map((m) => [m.kind, m.fault])).toEqual([
      ['link', 'The time of the link in it is over. Make a new one.'],
    ]);
  });
});

it('invitations go by mail as well, to those who have an address', async () => {
  const logins = ['cleo', 'marker'];
  const { invitations } = await school.office.must<Invitations>('POST', '/invitations', { logins, mail: true });
  expect(invitations.map((i) => [i.login, i.mailed])).toEqual([
    ['cleo', true],
    ['marker', false],
  ]);
  await school.doJobs();
  const [mail] = standIn.mailbox.all();
  expect(mail).toMatchObject({ to: 'cleo@tarn.example', subject: 'Choose a password' });
  expect((await welcome(secretIn(mail!.text), 'by-the-mail-1')).status).toBe(200);
});

it('at the terminal a link is made for whoever is there', async () => {
  const path = await passwordLinkFor(school.pool, ' Office ');
  expect((await welcome(secretIn(path!), 'the-office-again')).body).toEqual({ login: 'office' });
  expect(await passwordLinkFor(school.pool, 'nobody')).toBeNull();
});
