import { TestBed } from '@angular/core/testing';
import type { LiveEvent } from '@contract/presence';
import { Api } from '../api';
import { LiveStream } from './live-stream';

/** What a browser gives all its windows: one lock of a name, channels that hear each other, streams. */
class Browser {
  readonly streams: { url: string; open: boolean; tell(event: LiveEvent): void; sign(): void; fail(): void }[] = [];
  private readonly channels: { name: string; onmessage: ((m: { data: unknown }) => void) | null }[] = [];
  private readonly locks = new Map<string, (() => void)[]>();

  get open(): string[] {
    return this.streams
      .filter((s) => s.open)
      .map((s) => s.url.replace('/api/v1/events?', '').replace(/&window=[\w-]+$/, ''));
  }

  install(): void {
    const { streams, channels } = this;
    vi.stubGlobal(
      'EventSource',
      class {
        onmessage: ((m: { data: string }) => void) | null = null;
        onerror: (() => void) | null = null;
        private readonly entry;
        constructor(url: string) {
          const tell = (event: LiveEvent): void => this.onmessage!({ data: JSON.stringify(event) });
          this.entry = { url, open: true, tell, sign: () => this.signed(), fail: () => this.onerror!() };
          streams.push(this.entry);
        }
        private signed = (): void => undefined;
        addEventListener(_sign: string, heard: () => void): void {
          this.signed = heard;
        }
        close(): void {
          this.entry.open = false;
        }
      },
    );
    vi.stubGlobal(
      'BroadcastChannel',
      class {
        onmessage: ((m: { data: unknown }) => void) | null = null;
        constructor(readonly name: string) {
          channels.push(this);
        }
        postMessage(data: unknown): void {
          for (const other of channels) if (other !== this && other.name === this.name) other.onmessage?.({ data });
        }
        close(): void {
          channels.splice(channels.indexOf(this), 1);
        }
      },
    );
    const request = async (name: string, { signal }: { signal: AbortSignal }, hold: () => unknown): Promise<void> => {
      for (let waiting = this.locks.get(name); waiting; waiting = this.locks.get(name)) {
        const queue = waiting;
        await new Promise<void>((turn, stop) => {
          queue.push(turn);
          signal.addEventListener('abort', () => stop(new Error('AbortError')));
        });
      }
      const queue: (() => void)[] = [];
      this.locks.set(name, queue);
      await hold();
      this.locks.delete(name);
      for (const turn of queue) turn();
    };
    vi.stubGlobal('navigator', { ...navigator, locks: { request } });
  }

  /** A window of somebody, and what it was told. */
  window(person = 'me'): { stream: LiveStream; told: LiveEvent[] } {
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({ providers: [{ provide: Api, useValue: { person: () => person } }] });
    const stream = TestBed.inject(LiveStream);
    const told: LiveEvent[] = [];
    stream.events.subscribe((event) => told.push(event));
    return { stream, told };
  }
}

const cells = (book: string, seq: number): LiveEvent => ({ kind: 'cells', book, seq, cells: [], by: [] });

describe('one stream for all windows of a person', () => {
  let browser: Browser;
  beforeEach(() => {
    vi.useFakeTimers();
    browser = new Browser();
    browser.install();
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const settle = (): Promise<unknown> => vi.advanceTimersByTimeAsync(0);
  const two = async () => {
    const [a, b] = [browser.window(), browser.window()];
    a.stream.follow('fens', 7);
    await settle();
    b.stream.follow('soil', 3);
    await settle();
    return [a, b] as const;
  };

  it('is held by one of them, and tells each of its own book', async () => {
    const [a, b] = await two();
    expect(browser.open).toEqual(['book=fens:7&book=soil:3']);
    browser.streams.at(-1)!.tell(cells('fens', 9));
    browser.streams.at(-1)!.tell(cells('soil', 4));
    expect([a.told, b.told]).toEqual([[cells('fens', 9)], [cells('soil', 4)]]);
    a.stream.leave();
    b.stream.leave();
    await settle();
    expect(browser.open).toEqual([]);
  });

  it('goes over to another window when its holder leaves, from the line that each knows', async () => {
    const [a, b] = await two();
    browser.streams.at(-1)!.tell(cells('soil', 8));
    a.stream.leave();
    await settle();
    expect(browser.open).toEqual(['book=soil:8']);
    a.stream.follow('fens', 9);
    await settle();
    expect(browser.open).toEqual(['book=soil:8&book=fens:9']);
    browser.streams.at(-1)!.tell(cells('fens', 10));
    expect(a.told).toEqual([cells('fens', 10)]);
    a.stream.leave();
    b.stream.leave();
  });

  it('is opened anew from what is known where it broke, with pauses that grow', async () => {
    const [a, b] = await two();
    browser.streams.at(-1)!.tell(cells('fens', 12));
    for (const pause of [1_300, 2_600, 5_200]) {
      browser.streams.at(-1)!.fail();
      expect(browser.open).toEqual([]);
      await vi.advanceTimersByTimeAsync(pause / 2.6);
      expect(browser.open).toEqual([]);
      await vi.advanceTimersByTimeAsync(pause);
      expect(browser.open).toEqual(['book=fens:12&book=soil:3']);
    }
    a.stream.leave();
    b.stream.leave();
  });

  it('is opened anew where it is silent for long, and not while there are signs of life', async () => {
    const [a, b] = await two();
    const [line] = browser.streams.slice(-1);
    for (let i = 0; i < 4; i++) {
      await vi.advanceTimersByTimeAsync(20_000);
      line!.sign();
    }
    expect(line!.open).toBe(true);
    line!.tell(cells('fens', 9));
    await vi.advanceTimersByTimeAsync(49_000);
    expect(line!.open).toBe(true);
    await vi.advanceTimersByTimeAsync(3_000);
    expect([line!.open, browser.open]).toEqual([false, ['book=fens:9&book=soil:3']]);
    a.stream.leave();
    b.stream.leave();
  });

  it('is opened at once when the machine is on line again, however long the pause would be', async () => {
    const [a, b] = await two();
    for (let i = 0; i < 6; i++) {
      browser.streams.at(-1)!.fail();
      await vi.advanceTimersByTimeAsync(40_000);
    }
    browser.streams.at(-1)!.fail();
    expect(browser.open).toEqual([]);
    globalThis.dispatchEvent(new Event('online'));
    expect(browser.open).toEqual(['book=fens:7&book=soil:3']);
    a.stream.leave();
    b.stream.leave();
    await settle();
    globalThis.dispatchEvent(new Event('online'));
    expect(browser.open).toEqual([]);
  });

  it('follows no longer for a window that was killed', async () => {
    const [a, b] = await two();
    // It hears and says nothing any more.
    (b.stream as unknown as { channel: { onmessage: null } }).channel.onmessage = null;
    await vi.advanceTimersByTimeAsync(41_000);
    expect(browser.open).toEqual(['book=fens:7']);
    a.stream.leave();
    b.stream.leave();
  });

  it('is another for another person', async () => {
    const [mine, theirs] = [browser.window('me'), browser.window('you')];
    mine.stream.follow('fens', 7);
    theirs.stream.follow('fens', 1);
    await settle();
    expect(browser.open).toEqual(['book=fens:7', 'book=fens:1']);
    browser.streams[1]!.tell(cells('fens', 2));
    expect([mine.told.length, theirs.told.length]).toEqual([0, 1]);
    mine.stream.leave();
    theirs.stream.leave();
  });

  it('is each window’s own where the browser has no locks', async () => {
    vi.stubGlobal('navigator', { ...navigator, locks: undefined });
    const [a, b] = await two();
    expect(browser.open).toEqual(['book=fens:7', 'book=soil:3']);
    a.stream.leave();
    b.stream.leave();
  });

  it('is each window’s own where the browser refuses its locks', async () => {
    vi.stubGlobal('navigator', { ...navigator, locks: { request: () => Promise.reject(new Error('SecurityError')) } });
    const { stream } = browser.window();
    stream.follow('fens', 7);
    await settle();
    expect(browser.open).toEqual(['book=fens:7']);
    stream.leave();
  });
});
