import type { DemoClock } from './clock';

/** What happens in a book in the course of its term: each thing at its moment, in their order whoever names it first. */
export class Term {
  private readonly events: { at: string; number: number; happen: () => Promise<void> }[] = [];

  constructor(private readonly clock: DemoClock) {}

  at(moment: string, happen: () => Promise<void>): void {
    this.events.push({ at: new Date(moment).toISOString(), number: this.events.length, happen });
  }

  async pass(): Promise<void> {
    this.events.sort((a, b) => a.at.localeCompare(b.at) || a.number - b.number);
    for (const e of this.events) {
      await this.clock.set(e.at);
      await e.happen();
    }
  }
}
