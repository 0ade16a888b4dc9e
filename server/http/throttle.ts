import type pg from 'pg';
import { RateLimiterPostgres } from 'rate-limiter-flexible';

/** Seconds after which guesses are forgotten. */
const WINDOW = 900;
/** Wrong guesses that cost nothing: for an account, from an address, from a browser that this person has used before. */
const FREE = { account: 5, address: 20, browser: 20 };
/** The work that a try costs from then on, as powers of two of hashes: up to some five seconds of a phone. */
const LEAST_BITS = 15;
const MOST_BITS = 19;

/** Where a try comes from. `browser`: whose it was before, by our own signature; null: nobody's that we know. */
export interface Attempt {
  account: string;
  address: string;
  browser: string | null;
}

/** Counts guesses, over all server processes, and says what a try costs. Nobody is ever kept out. */
export class SignInThrottle {
  private readonly limiter: RateLimiterPostgres;

  constructor(pool: pg.Pool) {
    this.limiter = new RateLimiterPostgres({
      storeClient: pool,
      tableName: 'sign_in_failure',
      tableCreated: true,
      duration: WINDOW,
      // Nothing is refused by the count; the cost is worked out from it.
      points: Number.MAX_SAFE_INTEGER,
      clearExpiredByTimeout: false,
      keyPrefix: '',
    });
  }

  private keys({ account, address, browser }: Attempt): string[] {
    return [`account:${account}`, `address:${address}`, ...(browser === null ? [] : [`browser:${browser}`])];
  }

  /** Counts a try before it is looked at, so that many side by side are many; gives its cost in bits, 0 none. */
  async count(attempt: Attempt): Promise<number> {
    const [account, address, browser] = await Promise.all(
      this.keys(attempt).map(async (key) => (await this.limiter.penalty(key, 1)).consumedPoints),
    );
    if (browser !== undefined && browser <= FREE.browser) return 0;
    const doublings = Math.max(account! - FREE.account, Math.ceil((address! - FREE.address) / FREE.address));
    return doublings <= 0 ? 0 : Math.min(MOST_BITS, LEAST_BITS + doublings - 1);
  }

  /** What was counted was no guess. */
  async giveBack(attempt: Attempt): Promise<void> {
    await Promise.all(this.keys(attempt).map((key) => this.limiter.reward(key, 1)));
  }

  /** The right password: guesses of the account are forgotten. */
  async succeeded(attempt: Attempt): Promise<void> {
    await this.giveBack(attempt);
    await this.limiter.delete(`account:${attempt.account}`);
  }
}
