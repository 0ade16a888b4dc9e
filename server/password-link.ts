import { passwordLinkFor } from './modules/people';
import { openPool } from './kernel/database';

/** At the terminal of the machine itself: a link for a new password, where nobody is left who could make one. */
async function main(): Promise<void> {
  const [login] = process.argv.slice(2);
  const { DATABASE_URL, PUBLIC_ADDRESS } = process.env;
  if (!login) throw new Error('Say whose: npm run password-link -- SIGN-IN-NAME');
  if (!DATABASE_URL) throw new Error('DATABASE_URL names no database.');
  const pool = openPool(DATABASE_URL, 1);
  try {
    const path = await passwordLinkFor(pool, login);
    if (path === null) throw new Error(`Nobody signs in as “${login}”.`);
    process.stdout.write(
      `Open this once, within an hour, and choose a password:\n${(PUBLIC_ADDRESS ?? '').replace(/\/+$/, '')}${path}\n`,
    );
  } finally {
    await pool.end();
  }
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exitCode = 1;
});
