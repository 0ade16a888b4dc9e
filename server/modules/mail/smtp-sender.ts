import { createTransport } from 'nodemailer';
import type { MailSettings } from '../../kernel/config';
import type { WaitingMail } from './sql';

/** What the mail server made of one mail. `refused`: it will not have it, now or later; `all`: it answers nobody. */
export type Sending =
  { done: 'sent' } | { done: 'refused'; fault: string } | { done: 'not-yet'; fault: string; all: boolean };

export interface MailSender {
  send(mail: WaitingMail): Promise<Sending>;
  close(): void;
}

/** Milliseconds that the server has to take a line, to greet, and to answer. */
const PATIENCE = 20_000;

/** Speaks SMTP to the server that the configuration names, over one kept line. */
export function smtpSender(settings: MailSettings, patience = PATIENCE): MailSender {
  const waits = { connectionTimeout: patience, greetingTimeout: patience, socketTimeout: patience };
  const transport = createTransport({ url: settings.server, pool: true, maxConnections: 1, ...waits } as object);
  return {
    async send(mail) {
      if (mail.address === '') return { done: 'refused', fault: 'This person has no mail address.' };
      const link = mail.path === '' ? '' : `\n\n${settings.publicAddress}${mail.path}\n`;
      try {
        await transport.sendMail({
          from: { name: mail.schoolTitle, address: settings.from },
          to: { name: mail.name, address: mail.address },
          subject: mail.subject,
          text: `${mail.body}${link}`,
          // Made from the row: sent twice because no answer came, it is the same mail.
          messageId: `<${mail.id}.${mail.school}@${settings.from.split('@').at(-1)}>`,
          disableFileAccess: true,
          disableUrlAccess: true,
        });
        return { done: 'sent' };
      } catch (error) {
        return sendingOf(error as SmtpError);
      }
    },
    close: () => transport.close(),
  };
}

interface SmtpError extends Error {
  responseCode?: number;
  response?: string;
  command?: string;
}

/** Of what went wrong: whether it is this mail's trouble or everybody's, and whether a later try may help. */
function sendingOf({ responseCode, response, command }: SmtpError): Sending {
  if (responseCode === undefined) return { done: 'not-yet', all: true, fault: 'The mail server does not answer.' };
  const said = `The mail server said: ${(response ?? '').replace(/\s+/g, ' ').slice(0, 200)}`;
  // Of the sender or the sign-in everybody's mail is refused: that is the configuration's trouble, and passes.
  const all = command === 'CONN' || command === 'AUTH' || /^MAIL/.test(command ?? '');
  if (responseCode >= 500 && !all) return { done: 'refused', fault: said };
  return { done: 'not-yet', fault: said, all };
}
