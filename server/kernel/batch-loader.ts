/**
 * Questions of many requests asked together: while one question is on its way to the database, those that come are
 * gathered and go with the next. Nothing is remembered: each is answered from what the database says after it was asked.
 */
export class BatchLoader<K, V> {
  private waiting: { key: K; done: (v: V) => void; failed: (e: unknown) => void }[] = [];
  private running = 0;

  /** `ask` gives an answer for each key, in their order. */
  constructor(
    private readonly ask: (keys: K[]) => Promise<V[]>,
    private readonly most = 200,
  ) {}

  get(key: K): Promise<V> {
    return new Promise((done, failed) => {
      this.waiting.push({ key, done, failed });
      if (this.waiting.length === 1 && this.running < 2) setImmediate(() => void this.run());
    });
  }

  private async run(): Promise<void> {
    if (this.waiting.length === 0 || this.running >= 2) return;
    const now = this.waiting.splice(0, this.most);
    this.running++;
    try {
      const answers = await this.ask(now.map((w) => w.key));
      now.forEach((w, i) => w.done(answers[i]!));
    } catch (error) {
      if (now.length === 1) now[0]!.failed(error);
      // One that cannot be asked must not take the others with it.
      else
        for (const w of now)
          await this.ask([w.key]).then(
            ([answer]) => w.done(answer!),
            (fault: unknown) => w.failed(fault),
          );
    } finally {
      this.running--;
      if (this.waiting.length > 0) void this.run();
    }
  }
}
