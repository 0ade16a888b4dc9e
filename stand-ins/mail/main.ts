import { startMailStandIn } from './stand-in';

// A mail server that sends nothing on: for the demo and for tests. It ends with whoever started it.
process.on('disconnect', () => process.exit(0));
startMailStandIn({ smtp: Number(process.env['SMTP_PORT'] ?? 0), page: Number(process.env['PAGE_PORT'] ?? 0) }).then(
  ({ smtp, page }) => process.stdout.write(`listening ${smtp} ${page}\n`),
  (error: Error) => {
    process.stderr.write(`${error.message}\n`);
    process.exit(1);
  },
);
