import { vi } from 'vitest';

/** Waits until it holds, for longer than a busy machine takes. */
export const soon = <T>(holds: () => T | Promise<T>): Promise<T> =>
  vi.waitFor(holds, { timeout: 30_000, interval: 20 });
