import type pg from 'pg';
import { transaction } from '../../kernel/database';
import { pause } from '../../kernel/timers';
import { inAnHour, makePasswordLink, mailPasswordLinks } from './password-links';
import { askedLately, holdForgetful } from './sql';

/** Minutes in which somebody is not sent a second link. */
const ONCE_IN = 5;
/** Milliseconds that an answer takes at least, whether there is such an account or not. */
const PATIENCE = 300;

/** Sends a link for a new password to whoever signs in so, or has this mail address. Nobody learns whether there is one. */
export async function sendForgotten(pool: pg.Pool, name: string): Promise<void> {
  const asMuch = pause(PATIENCE);
  await transaction(pool, async (db) => {
    const expires = inAnHour();
    for (const { school, person, login } of await holdForgetful(db, name.trim().toLowerCase())) {
      if (await askedLately(db, school, person, ONCE_IN)) continue;
      const path = await makePasswordLink(db, { school, person, by: person, expires, forgotten: true });
      await mailPasswordLinks(db, school, [{ person, login, path, expires, forgotten: true }]);
    }
  });
  await asMuch;
}
