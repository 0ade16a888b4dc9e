import { createTransport } from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startMailStandIn, type MailStandIn } from './stand-in';

let mail: MailStandIn;
beforeEach(async () => {
  mail = await startMailStandIn({ smtp: 0, page: 0 });
});
afterEach(() => mail.close());

const send = (to: string, messageId = '<m1@tally.example>') => {
  const transport = createTransport({ host: '127.0.0.1', port: mail.smtp, socketTimeout: 500, connectionTimeout: 500 });
  const words = { from: 'tally@tally.example', to, subject: 'Grüße & <b>', text: 'Words with ż and 字.', messageId };
  return transport.sendMail(words).finally(() => transport.close());
};
const page = async (path: string, init?: RequestInit): Promise<string> =>
  (await fetch(`http://127.0.0.1:${mail.page}${path}`, init)).text();
const faults = (wrong: object): Promise<string> =>
  page('/faults', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(wrong) });

describe('the mail stand-in', () => {
  it('keeps what it is sent, and shows it as words, never as a page of its own', async () => {
    await send('ada@tarn.example');
    expect(mail.mailbox.all()).toMatchObject([
      { to: 'ada@tarn.example', subject: 'Grüße & <b>', text: 'Words with ż and 字.\n', times: 1 },
    ]);
    expect(await page('/')).toContain('Grüße &amp; &lt;b&gt;');
    expect(JSON.parse(await page('/mails?words=nobody'))).toEqual([]);
  });

  it('shows what was sent twice once, and counts both', async () => {
    await send('ada@tarn.example');
    await send('ada@tarn.example');
    await send('ben@tarn.example');
    expect(mail.mailbox.all().map((m) => [m.to, m.times])).toEqual([
      ['ben@tarn.example', 1],
      ['ada@tarn.example', 2],
    ]);
    await page('/mails', { method: 'DELETE' });
    expect(mail.mailbox.all()).toEqual([]);
  });

  it('is down, and comes back on the same port', async () => {
    await faults({ down: true });
    await expect(send('ada@tarn.example')).rejects.toThrow(/ECONNREFUSED/);
    await faults({});
    await send('ada@tarn.example');
    expect(mail.mailbox.all()).toHaveLength(1);
  });

  it('refuses one address, and takes the others', async () => {
    await faults({ refuses: 'Ben@tarn.example' });
    await expect(send('ben@tarn.example')).rejects.toThrow(/550/);
    await send('ada@tarn.example');
    expect(mail.mailbox.all().map((m) => m.to)).toEqual(['ada@tarn.example']);
  });

  it('takes a mail and answers nothing, so that whoever sent it cannot know', async () => {
    await faults({ silent: true });
    await expect(send('ada@tarn.example')).rejects.toThrow();
    expect(mail.mailbox.all()).toHaveLength(1);
    await faults({ slow: 0.05 });
    await send('ada@tarn.example');
    expect(mail.mailbox.all()).toMatchObject([{ times: 2 }]);
  });
});
