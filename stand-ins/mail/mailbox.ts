import { simpleParser } from 'mailparser';

/** A mail as it was taken in. One that was sent twice stands once, and counts twice. */
export interface KeptMail {
  messageId: string;
  times: number;
  at: string;
  from: string;
  to: string;
  subject: string;
  text: string;
}

/** Mails that are kept at most; the oldest go first. */
const MOST = 5_000;

/** Every mail that was taken in, by its Message-ID and whom it is to. */
export class Mailbox {
  private readonly mails = new Map<string, KeptMail>();

  async take(raw: Buffer, to: readonly string[]): Promise<void> {
    const parsed = await simpleParser(raw);
    const messageId = parsed.messageId ?? '';
    const key = `${messageId} ${to.join(' ')}`;
    const known = this.mails.get(key);
    if (known) {
      known.times++;
      return;
    }
    this.mails.set(key, {
      messageId,
      times: 1,
      at: new Date().toISOString(),
      from: parsed.from?.text ?? '',
      to: to.join(', '),
      subject: parsed.subject ?? '',
      text: parsed.text ?? '',
    });
    if (this.mails.size > MOST) this.mails.delete(this.mails.keys().next().value!);
  }

  /** The latest first; with these words in address, subject or text, where some are given. */
  all(words = ''): KeptMail[] {
    const wanted = words.toLowerCase();
    return [...this.mails.values()]
      .reverse()
      .filter((m) => `${m.to} ${m.subject} ${m.text}`.toLowerCase().includes(wanted));
  }

  clear(): void {
    this.mails.clear();
  }
}
