import { counted } from '@core/words/count';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Decimals } from '../../ui/text/decimals';
import { Counted, Form } from '../../ui/text/counted';
import { Button } from 'primeng/button';
import { ApiProblem, messageOf } from '../../data/api';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';
import { listName } from '../../ui/text/list-name';

/** The final grades as they stand, how they spread, and the file for them. */
@Component({
  selector: 'lt-closing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Decimals, Form, Counted, Button],
  templateUrl: './closing.html',
  styleUrl: './closing.css',
})
export class ClosingPage {
  protected readonly store = inject(BookStore);
  private readonly statusBar = inject(StatusBar);
  protected readonly busy = signal(false);
  protected readonly failure = signal('');
  protected readonly rows = computed(() => {
    this.store.revision();
    return this.store.students().map((id, s) => {
      const p = this.store.people().get(id);
      const standing = this.store.standings()[s];
      return {
        id,
        number: p?.number ?? '',
        name: p ? listName(p) : '',
        section: p?.section ? (this.store.sections().get(p.section) ?? '') : '',
        standing,
        open: standing !== undefined && standing.low !== standing.high,
      };
    });
  });
  protected readonly open = computed(() => this.rows().filter((r) => r.open).length);
  protected readonly letters = computed(() => {
    const rules = this.store.rules();
    const scale = rules?.scale ? rules.rules?.scales?.[rules.scale] : undefined;
    const bands = [...(scale?.bands ?? [])].sort((a, b) => b.from - a.from);
    const most = Math.max(1, ...bands.map((b) => this.count(b.label)));
    return bands.map((b) => ({ label: b.label, count: this.count(b.label), part: (100 * this.count(b.label)) / most }));
  });
  protected readonly asOf = computed(() => {
    const page = this.store.page();
    return page ? dayAndTime(page.asOf, page.timeZone) : '';
  });

  constructor() {
    this.statusBar.setIdle('The grades as they stand now; the file says so in its first line.');
  }

  private count(letter: string): number {
    return this.rows().filter((r) => r.standing?.letter === letter).length;
  }

  /** Fetched first, so that a refusal is a sentence here and not a page of its own. */
  protected async save(): Promise<void> {
    this.busy.set(true);
    this.failure.set('');
    try {
      const response = await fetch(`/api/v1/books/${this.store.id()}/final-grades.csv`).catch(() => null);
      if (!response) throw new ApiProblem('offline', 'The server does not answer. No file was made; try again.');
      if (!response.ok) throw new ApiProblem('broken', ((await response.json()) as { detail: string }).detail);
      const name =
        /filename="([^"]+)"/.exec(response.headers.get('content-disposition') ?? '')?.[1] ?? 'final-grades.csv';
      const address = URL.createObjectURL(await response.blob());
      const link = Object.assign(document.createElement('a'), { href: address, download: name });
      link.click();
      setTimeout(() => URL.revokeObjectURL(address), 10_000);
      this.statusBar.announce(`${name} is saved: ${counted(this.rows().length, 'student')}.`);
    } catch (error) {
      this.failure.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
