import { afterPaint } from '../../../ui/timing/after-paint';

/**
 * Where the cursor goes after a level, once that is seen. Keys of the room are the ruler's wherever they are pressed, so it
 * can wait; nothing is done where the cursor was moved meanwhile.
 */
export class NextPlace {
  private waiting: { from: Element | null; focus: () => void; leads: 'on' | 'away' } | null = null;

  /** `away`: the next key is not the ruler's any more. */
  set(leads: 'on' | 'away', focus: () => void): void {
    const waiting = (this.waiting = { from: document.activeElement, focus, leads });
    void afterPaint().then(() => this.waiting === waiting && this.go());
  }

  /** A key comes first: where this leads away it does so now, and what has the cursor then hears the key. */
  leave(event: KeyboardEvent): boolean {
    if (this.waiting?.leads !== 'away') return false;
    const { from } = this.waiting;
    this.go();
    const now = document.activeElement;
    if (!now || now === from) return false;
    event.stopPropagation();
    if (!now.dispatchEvent(new KeyboardEvent(event.type, event))) event.preventDefault();
    return true;
  }

  private go(): void {
    const waiting = this.waiting!;
    this.waiting = null;
    if (document.activeElement === waiting.from) waiting.focus();
  }

  /** What belongs to it is gone. */
  drop(): void {
    this.waiting = null;
  }
}
