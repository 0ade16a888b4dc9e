export { mailJob } from './mail-job';
export { putMails } from './put-mails';
export { smtpSender, type MailSender } from './smtp-sender';
export type { NewMail } from './sql';
