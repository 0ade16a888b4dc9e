import { computed, inject, Injectable, resource, signal } from '@angular/core';
import type { FeedbackWith, Phrase, Phrases as PhraseList, PhraseScope } from '@contract/work/feedback';
import { Api, messageOf, newOperation } from '../api';
import { BookStore } from '../book';
import { StatusBar } from '../../ui/layout/status-bar';

const plain = (text: string): string => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();

/** Phrases with a word that begins with what was typed, in their order. */
export function matching(phrases: readonly Phrase[], typed: string, most = 6): Phrase[] {
  const query = plain(typed);
  const begins = (words: string): boolean =>
    plain(words)
      .split(/[^\p{L}\p{N}]+/u)
      .some((w) => w.startsWith(query));
  return phrases.filter((f) => begins(f.words)).slice(0, most);
}

/** A phrase as it is put into a note. */
export const filledIn = (words: string, given: string): string => words.replaceAll('{given}', given);

/** Words of feedback that are used again, as one may use them in the open book. */
@Injectable({ providedIn: 'root' })
export class PhraseBook {
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly statusBar = inject(StatusBar);
  private readonly loaded = resource({
    params: () => (this.store.id() ? `/books/${this.store.id()}/phrases` : undefined),
    loader: async ({ params }) => ({ of: params, list: await this.api.get<PhraseList>(params) }),
  });
  private readonly newer = signal<{ of: string; list: PhraseList } | null>(null);
  private readonly path = computed(() => `/books/${this.store.id()}/phrases`);
  readonly all = computed((): readonly Phrase[] => {
    if (this.newer()?.of === this.path()) return this.newer()!.list;
    return this.loaded.hasValue() && this.loaded.value().of === this.path() ? this.loaded.value().list : [];
  });
  /** Ends with the write before. */
  private writing: Promise<unknown> = Promise.resolve();
  readonly problem = computed(() => (this.loaded.error() ? messageOf(this.loaded.error()) : ''));

  /** Counts that one was used; where that cannot be told, the count alone is the poorer. */
  use(phrase: Phrase): void {
    this.put(this.all().map((f) => (f.id === phrase.id ? { ...f, uses: f.uses + 1 } : f)));
    this.api
      .send('POST', `${this.path()}/${phrase.id}/uses`, { operation: newOperation() })
      .catch((error: unknown) => console.warn('that a phrase was used was not counted', error));
  }

  /** Keeps words as a phrase of one's own; the same words are one already. */
  async keep(words: string): Promise<void> {
    const same = this.all().some((f) => f.words === words.trim());
    if (same || words.trim() === '') return;
    await this.write({ id: newOperation(), version: 0 }, 'own', words);
    this.statusBar.announce(`Kept as a phrase: “${words.trim().slice(0, 60)}”.`);
  }

  /** Writes one; null: it is taken out. Throws what the server says against it. */
  write(at: Pick<Phrase, 'id' | 'version'>, scope: PhraseScope, words: string | null): Promise<void> {
    const of = this.path();
    const body = { version: at.version, scope, words };
    // One after the other: the answer that comes last is then the list as it is.
    const written = this.writing.then(async () =>
      this.newer.set({ of, list: await this.api.send<PhraseList>('PUT', `${of}/${at.id}`, body) }),
    );
    this.writing = written.catch(() => undefined);
    return written;
  }

  /** Whose feedback on an assessment has these words. */
  async usedIn(assessment: string, words: string): Promise<string[]> {
    const path = `/books/${this.store.id()}/assessments/${assessment}/feedback-with`;
    return (await this.api.get<FeedbackWith>(`${path}?words=${encodeURIComponent(words)}`)).enrolments;
  }

  private put(list: PhraseList): void {
    this.newer.set({ of: this.path(), list });
  }
}
