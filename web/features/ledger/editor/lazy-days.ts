import type { readDay } from '../../../ui/text/read-day';

export type ReadDay = typeof readDay;

let reader: ReadDay | null = null;

/** Reads days as people write them; null while that is on its way: it is large, and few words need it. */
export const dayReader = (): ReadDay | null => reader;

/** Fetches it, once. Rejects without a line; the next word that needs it asks again. */
export async function loadDays(): Promise<void> {
  reader ??= (await import('../../../ui/text/read-day')).readDay;
}
