import { Injectable, signal } from '@angular/core';

export interface KeyHint {
  key: string;
  does: string;
}

/** What the bar at the foot says: what was last kept, where you are, which keys work here. */
@Injectable({ providedIn: 'root' })
export class Foot {
  readonly says = signal('');
  readonly tone = signal<'plain' | 'trouble'>('plain');
  readonly keys = signal<KeyHint[]>([]);

  tell(says: string, tone: 'plain' | 'trouble' = 'plain'): void {
    this.says.set(says);
    this.tone.set(tone);
  }
}
