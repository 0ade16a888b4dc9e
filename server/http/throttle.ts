import { counted } from '@core/words/count';
import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { Refusal } from '../kernel/refusal';

/** Failed sign-ins: at most 10 for an account and 100 from an address in 15 minutes, over all server processes. */
export class SignInThrottle {
  private readonly byAccount: RateLimiterPostgres;
  private readonly byAddress: RateLimiterPostgres;

  constructor(pool: pg.Pool) {
    const common = {
      storeClient: pool,
      tableName: 'sign_in_failure',
      tableCreated: true,
      duration: 900,
      clearExpiredByTimeout: false,
    };
    this.byAccount = new RateLimiterPostgres({ ...common, keyPrefix: 'account', points: 10 });
    this.byAddress = new RateLimiterPostgres({ ...common, keyPrefix: 'address', points: 100 });
  }

  /** Throws where there were too many failures; nothing is counted yet. */
  async admit(account: string, address: string): Promise<void> {
    const [a, b] = await Promise.all([this.byAccount.get(account), this.byAddress.get(address)]);
    const waits = [
      a !== null && a.consumedPoints >= 10 ? a : null,
      b !== null && b.consumedPoints >= 100 ? b : null,
    ].flatMap((r) => (r === null ? [] : [r.msBeforeNext]));
    if (waits.length > 0) throw slowDown(Math.max(...waits));
  }

  async failed(account: string, address: string): Promise<void> {
    for (const [limiter, key] of [
      [this.byAccount, account],
      [this.byAddress, address],
    ] as const)
      await limiter.consume(key).catch((full: unknown) => {
        // Rejecting with a count is how the package says "no more": the next try is the one that is refused.
        if (!(full instanceof RateLimiterRes)) throw full;
      });
  }

  async succeeded(account: string): Promise<void> {
    await this.byAccount.delete(account);
  }
}

function slowDown(millis: number): Refusal {
  const minutes = Math.max(1, Math.ceil(millis / 60_000));
  return new Refusal('slow-down', `Too many sign-ins have failed. Wait ${counted(minutes, 'minute')} and try again.`);
}
