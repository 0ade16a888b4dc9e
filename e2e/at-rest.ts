import { expect, type Page, type Request } from '@playwright/test';

/** What a page asks for and gets an end of: not the stream of live changes. */
const ends = (request: Request): boolean =>
  ['fetch', 'xhr'].includes(request.resourceType()) && !request.url().includes('/api/v1/events');

/** Says whether a page waits for an answer, of all that it asks for from now on. */
export function waitsFor(page: Page): () => boolean {
  const asked = new Set<Request>();
  page.on('request', (request) => ends(request) && asked.add(request));
  page.on('requestfinished', (request) => asked.delete(request));
  page.on('requestfailed', (request) => asked.delete(request));
  return () => asked.size > 0;
}

/** What is read once it stays the same for a moment, there is something, and no answer is waited for. */
export async function atRest(read: () => Promise<string>, waits: () => boolean = () => false): Promise<string> {
  let before = '';
  await expect(async () => {
    const now = await read();
    const rests = now === before && now.length > 20 && !waits();
    before = now;
    expect(rests, now).toBe(true);
  }).toPass({ intervals: [600], timeout: 20_000 });
  return before;
}
