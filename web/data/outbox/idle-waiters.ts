/** Those who wait until nothing is left to send. */
export class IdleWaiters {
  private waiters: (() => void)[] = [];

  get isEmpty(): boolean {
    return this.waiters.length === 0;
  }

  /** True once they are told; false where that has not come to pass within so many milliseconds. */
  wait(milliseconds: number): Promise<boolean> {
    return new Promise((done) => {
      const late = setTimeout(() => {
        this.waiters = this.waiters.filter((w) => w !== told);
        done(false);
      }, milliseconds);
      const told = (): void => {
        clearTimeout(late);
        done(true);
      };
      this.waiters.push(told);
    });
  }

  tell(): void {
    for (const told of this.waiters.splice(0)) told();
  }
}
