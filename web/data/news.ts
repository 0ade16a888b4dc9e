import { computed, inject, Injectable, signal } from '@angular/core';
import type { Notices, Unread } from '@contract/notices';
import { Api } from './api';

/** Milliseconds between two looks for what is new, while the page is looked at. */
const LOOKS_EVERY = 60_000;

/** What the person who is signed in was told: how much of it is unread, and the list once somebody asks for it. */
@Injectable({ providedIn: 'root' })
export class News {
  private readonly api = inject(Api);
  readonly unread = signal(0);
  readonly list = signal<Notices | null>(null);
  readonly fresh = computed(() => (this.list() ?? []).filter((n) => !n.seen));
  private lookedAt = 0;

  /** Looks how much is unread, where that was not done in the last minute or `now` says so. No answer: what was known stays. */
  look(now = false): void {
    if (!this.api.person() || document.hidden) return;
    if (!now && Date.now() - this.lookedAt < LOOKS_EVERY / 2) return;
    this.lookedAt = Date.now();
    this.api.get<Unread>('/my/notices/unread').then(
      ({ unread }) => this.unread.set(unread),
      () => undefined,
    );
  }

  /** Looks again and again until the caller is done. */
  follow(): () => void {
    const timer = setInterval(() => this.look(), LOOKS_EVERY);
    return () => clearInterval(timer);
  }

  async load(): Promise<void> {
    this.list.set(await this.api.get<Notices>('/my/notices'));
    this.unread.set(this.fresh().length);
  }

  async read(ids: string[]): Promise<void> {
    if (ids.length === 0) return;
    await this.api.send('PUT', '/my/notices/seen', { notices: ids });
    const read = new Set(ids);
    this.list.update((list) => list && list.map((n) => (read.has(n.id) ? { ...n, seen: true } : n)));
    this.unread.set(this.fresh().length);
  }

  /** Somebody else is signed in, or nobody. */
  forget(): void {
    this.unread.set(0);
    this.list.set(null);
    this.lookedAt = 0;
  }
}
