import { expect } from '@playwright/test';

/** What is read once it stays the same for a moment, and there is something. */
export async function atRest(read: () => Promise<string>): Promise<string> {
  let before = '';
  await expect(async () => {
    const now = await read();
    const rests = now === before && now.length > 20;
    before = now;
    expect(rests, now).toBe(true);
  }).toPass({ intervals: [600], timeout: 20_000 });
  return before;
}
