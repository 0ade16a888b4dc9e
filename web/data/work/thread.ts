import { inject, Injectable, signal } from '@angular/core';
import type { Thread } from '@contract/work/threads';
import { Api, ApiProblem, messageOf } from '../api';
import { KeptDrafts } from '../kept-drafts';
import { Operations } from '../operations';
import { StatusBar } from '../../ui/layout/status-bar';

/** One thread of questions and answers, as it is looked at; one for each page that shows one. */
@Injectable()
export class OpenThread {
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly drafts = inject(KeptDrafts);
  private readonly statusBar = inject(StatusBar);
  /** Its address in the API; '' none. */
  private path = '';
  readonly thread = signal<Thread | null>(null);
  readonly busy = signal(false);
  readonly problem = signal('');
  /** What is typed and not sent; it is there again after another page, and after a reload. */
  readonly text = signal('');

  async open(path: string): Promise<void> {
    if (this.path !== path) {
      this.path = path;
      this.thread.set(null);
      this.problem.set('');
      this.text.set(path === '' ? '' : (this.drafts.read<string>(path) ?? ''));
    }
    await this.load();
  }

  /** Asks for it anew; what is typed stays. */
  async load(): Promise<void> {
    const { path } = this;
    if (path === '') return;
    try {
      const thread = await this.api.get<Thread>(path);
      if (this.path === path) this.thread.set(thread);
    } catch (error) {
      if (this.path === path) this.problem.set(messageOf(error));
    }
  }

  type(text: string): void {
    this.text.set(text);
    if (this.path !== '') this.drafts.keep(this.path, text);
  }

  /** Says it; true once it is there. */
  say(text: string): Promise<boolean> {
    return this.send(this.path, { text }, () => this.type(''));
  }

  /** Leaves it for a teacher of the book to answer. */
  draft(text: string): Promise<boolean> {
    return this.send(`${this.path}/draft`, { text }, () => this.type(''));
  }

  setAside(): Promise<boolean> {
    return this.send(`${this.path}/set-aside`, {}, () => undefined);
  }

  private async send(path: string, body: object, then: () => void): Promise<boolean> {
    const at = this.path;
    const seen = this.thread()?.messages.length ?? 0;
    this.busy.set(true);
    this.problem.set('');
    try {
      const thread = await this.operations.submit<Thread>('POST', path, { seen, ...body });
      if (this.path !== at) {
        // It was sent from the page before; its words wait there no longer.
        this.drafts.keep(at, null);
        return true;
      }
      then();
      this.thread.set(thread);
      return true;
    } catch (error) {
      if (this.path !== at) {
        // Another thread is looked at by now: what was typed for this one waits there.
        this.statusBar.announce(messageOf(error), 'trouble');
        return false;
      }
      if (error instanceof ApiProblem && error.code === 'stale') await this.load();
      this.problem.set(messageOf(error));
      return false;
    } finally {
      this.busy.set(false);
    }
  }
}
