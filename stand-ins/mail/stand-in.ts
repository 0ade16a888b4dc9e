import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Mailbox } from './mailbox';
import { mailPage } from './page';
import { Smtp } from './smtp';

export interface MailStandIn {
  /** Ports of the mail server and of its page. */
  smtp: number;
  page: number;
  mailbox: Mailbox;
  server: Smtp;
  close(): Promise<void>;
}

/** Listens on these ports of this machine alone; where the page's is taken, and for 0, on one that is free. */
export async function startMailStandIn(ports: { smtp: number; page: number }): Promise<MailStandIn> {
  const mailbox = new Mailbox();
  const server = new Smtp(mailbox);
  const smtp = await server.listen(ports.smtp);
  const page = createServer(mailPage(mailbox, server));
  await listen(page, ports.page).catch(() => listen(page, 0));
  return {
    smtp,
    page: (page.address() as AddressInfo).port,
    mailbox,
    server,
    async close() {
      page.closeAllConnections();
      await new Promise((done) => page.close(done));
      await server.close();
    },
  };
}

const listen = (server: Server, port: number): Promise<void> =>
  new Promise((done, failed) => {
    server.once('error', failed);
    server.listen(port, '127.0.0.1', () => {
      server.off('error', failed);
      done();
    });
  });
