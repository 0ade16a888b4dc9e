/** Milliseconds of work after which others are let through. */
const BREATH = 10;

/** For long work on the one thread: others' requests are answered between its pieces. */
export class Breathing {
  private since = performance.now();

  /** To be awaited between two pieces. */
  async pause(): Promise<void> {
    if (performance.now() - this.since < BREATH) return;
    await new Promise((done) => setImmediate(done));
    this.since = performance.now();
  }
}
