import { newOperation } from '@contract/wire/operation';

/** Milliseconds without a sign of life after which a line is taken for dead: the server gives one every twenty seconds. */
const SILENT_FOR = 50_000;

/** What is heard on a line, and where it leads. */
export interface EventLineEnd {
  /** Asked each time that it is opened; null: nowhere just now. */
  address(): string | null;
  heard(data: string): void;
  opened?(): void;
  /** It broke, and is opened again by itself. */
  broken?(): void;
}

/**
 * Server-sent events that come back by themselves: after pauses that grow where they broke off, at once where the machine
 * is on line again, and anew where they have been silent for so long that the line must be dead.
 */
export class EventLine {
  /** By which the server knows that what it still has open of this window is dead. */
  private readonly window = newOperation();
  private source: EventSource | null = null;
  private pause: number;
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** Milliseconds of the first pause and of the longest. */
  constructor(
    private readonly end: EventLineEnd,
    private readonly firstPause: number,
    private readonly longestPause: number,
  ) {
    this.pause = firstPause;
  }

  get isOpen(): boolean {
    return this.source !== null;
  }

  /** Opens it; anew where it is open. */
  open(): void {
    this.close();
    const address = this.end.address();
    if (address === null || typeof EventSource === 'undefined') return;
    globalThis.addEventListener('online', this.openAtOnce);
    const source = new EventSource(`${address}${address.includes('?') ? '&' : '?'}window=${this.window}`);
    this.source = source;
    source.onopen = () => this.end.opened?.();
    source.onmessage = (message) => {
      this.noteSign();
      this.end.heard(message.data as string);
    };
    source.addEventListener('sign', () => this.noteSign());
    // Not left to the browser: it would go on from where the line was opened first.
    source.onerror = () => this.source === source && this.comeBack();
    this.timer = setTimeout(() => this.comeBack(), SILENT_FOR);
  }

  close(): void {
    globalThis.removeEventListener('online', this.openAtOnce);
    this.drop();
  }

  private readonly openAtOnce = (): void => {
    this.pause = this.firstPause;
    if (this.source) this.end.broken?.();
    this.open();
  };

  private noteSign(): void {
    this.pause = this.firstPause;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.comeBack(), SILENT_FOR);
  }

  private comeBack(): void {
    this.drop();
    this.end.broken?.();
    this.timer = setTimeout(() => this.open(), this.pause * (0.75 + Math.random() / 2));
    this.pause = Math.min(2 * this.pause, this.longestPause);
  }

  private drop(): void {
    clearTimeout(this.timer);
    this.source?.close();
    this.source = null;
  }
}
