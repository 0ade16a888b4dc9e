import type { Response } from 'express';

/** Bytes that may wait for a reader who does not read; then the stream is cut off, and their page comes back anew. */
const MOST_WAITING = 4_000_000;

/** Server-sent events to one page: never written to after its end, never more than a bound in memory. */
export class EventStream {
  constructor(private readonly response: Response) {
    // A line that breaks while something is being written: there is nobody to tell.
    response.on('error', () => this.response.destroy());
  }

  private get open(): boolean {
    return !this.response.writableEnded && !this.response.destroyed;
  }

  /** `id`: from where the page goes on when it comes back. */
  send(data: string, id?: number): void {
    this.write(`${id === undefined ? '' : `id: ${id}\n`}data: ${data}\n\n`);
  }

  /** A sign of life, so that nothing between takes the stream for dead, and a page that hears none knows that it is. */
  sign(): void {
    this.write('event: sign\ndata: here\n\n');
  }

  private write(text: string): void {
    if (!this.open) return;
    this.response.write(text);
    if (this.response.writableLength > MOST_WAITING) this.response.destroy();
  }

  end(): void {
    if (!this.open) return;
    this.response.end();
    // One who does not read keeps the end waiting too.
    if (this.response.writableLength > 0) this.response.destroy();
  }

  /** Calls once when the stream is over, however that comes. */
  closed(then: () => void): void {
    if (this.response.destroyed || this.response.closed) then();
    else this.response.once('close', then);
  }
}
