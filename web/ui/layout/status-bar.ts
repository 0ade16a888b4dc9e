import { Injectable, signal, untracked } from '@angular/core';

export interface KeyHint {
  key: string;
  label: string;
}

/** Milliseconds that something told stays before what merely stands here is said again. */
const HOLD_MS = 5_000;

/** What the bar at the foot says: what was last kept, where you are, which keys work here. */
@Injectable({ providedIn: 'root' })
export class StatusBar {
  readonly message = signal('');
  readonly tone = signal<'plain' | 'trouble'>('plain');
  readonly keys = signal<KeyHint[]>([]);
  /** All keys of the page, and whether their sheet is shown. */
  readonly sheet = signal<{ title: string; keys: KeyHint[] }[]>([]);
  readonly sheetOpen = signal(false);
  /** Where the person is on the page, as the page says it. */
  private place = (): string => '';
  /** Where something was told; null once the page is left, until the next one says what stands there. */
  private toldPlace: string | null = '';
  private timer: ReturnType<typeof setTimeout> | undefined;
  private later: string | null = null;

  /** A page on which one moves about says where one is; given back is what ends that. */
  follow(place: () => string): () => void {
    this.place = place;
    return () => {
      if (this.place === place) this.place = () => '';
    };
  }

  /** Tells what happened. It is not talked over for some seconds. */
  announce(message: string, tone: 'plain' | 'trouble' = 'plain'): void {
    clearTimeout(this.timer);
    this.later = null;
    this.toldPlace = untracked(this.place);
    this.timer = setTimeout(() => {
      this.timer = undefined;
      if (this.later !== null) this.show(this.later, 'plain');
    }, HOLD_MS);
    this.show(message, tone);
  }

  /**
   * Says where one is and what stands here; at once where the person has moved on, else after what was told. A page that
   * is followed is told of a move when it is drawn again, perhaps after a key that was answered there already: so it is
   * the place that counts, not when the move was heard of.
   */
  setIdle(message: string, movedOn?: boolean): void {
    const place = untracked(this.place);
    this.toldPlace ??= place;
    if (movedOn ?? place !== this.toldPlace) {
      clearTimeout(this.timer);
      this.timer = undefined;
    }
    if (this.timer === undefined) this.show(message, 'plain');
    else this.later = message;
  }

  /** Another page comes: what this one said of itself goes with it, and its keys; what happened stays its seconds. */
  leavePage(): void {
    this.keys.set([]);
    this.sheet.set([]);
    this.setIdle('', false);
    this.toldPlace = null;
  }

  private show(message: string, tone: 'plain' | 'trouble'): void {
    this.message.set(message);
    this.tone.set(tone);
  }
}
