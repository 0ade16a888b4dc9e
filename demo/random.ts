/** A small seeded generator (mulberry32), so that the demo school is the same wherever it is made. */
export class Random {
  constructor(private state: number) {}

  /** 0 up to 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0;
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  }

  /** Roughly normal, mean 0 and spread 1: the sum of twelve. */
  normal(): number {
    let sum = -6;
    for (let i = 0; i < 12; i++) sum += this.next();
    return sum;
  }

  chance(p: number): boolean {
    return this.next() < p;
  }

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.next() * list.length)]!;
  }
}
