import { Injectable, signal } from '@angular/core';

const PLACE = 'last-tally turned files';
/** Files whose turn is remembered on this machine. */
const MOST = 500;

/** Quarter turns of files as somebody turned them, by file, kept on this machine. */
@Injectable({ providedIn: 'root' })
export class Turns {
  private readonly all = signal(read());

  /** 0, 90, 180 or 270 degrees to the right. */
  of(key: string): number {
    return this.all().get(key) ?? 0;
  }

  turn(key: string): void {
    const turned = new Map(this.all());
    turned.delete(key);
    turned.set(key, (this.of(key) + 90) % 360);
    const kept = [...turned].slice(-MOST);
    this.all.set(new Map(kept));
    try {
      localStorage.setItem(PLACE, JSON.stringify(kept));
    } catch {
      // A machine that keeps nothing turns them for this page alone.
    }
  }
}

function read(): Map<string, number> {
  try {
    const kept = JSON.parse(localStorage.getItem(PLACE) ?? '[]') as [string, number][];
    return new Map(kept.filter(([key, turn]) => typeof key === 'string' && [0, 90, 180, 270].includes(turn)));
  } catch {
    return new Map();
  }
}
