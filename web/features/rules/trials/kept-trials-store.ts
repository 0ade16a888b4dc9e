import { inject, Injectable, signal } from '@angular/core';
import type { KeptTrial, TrialWrite } from '@contract/rules';
import { Api, newOperation, messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { RuleEdit } from '../rule-edit';

/** The trials that the person keeps beside the open book's rules. */
@Injectable()
export class KeptTrialsStore {
  private readonly api = inject(Api);
  private readonly store = inject(BookStore);
  private readonly edit = inject(RuleEdit);
  readonly list = signal<readonly KeptTrial[]>([]);
  readonly failure = signal('');

  async load(): Promise<void> {
    if (!this.store.mayManage()) return;
    try {
      const list = await this.api.get<KeptTrial[]>(`/books/${encodeURIComponent(this.store.id())}/trials`);
      this.list.set(Array.isArray(list) ? list : []);
    } catch (error) {
      this.failure.set(messageOf(error));
    }
  }

  /** Keeps what is tried under a title; false where it could not be. */
  async keep(title: string): Promise<boolean> {
    const body = this.edit.body();
    if (!body) return false;
    this.failure.set('');
    try {
      const write: TrialWrite = { title: title.trim() || `Trial ${this.list().length + 1}`, body };
      await this.api.send('PUT', `/books/${this.store.id()}/trials/${newOperation()}`, write);
      await this.load();
      return true;
    } catch (error) {
      this.failure.set(messageOf(error));
      return false;
    }
  }
}
