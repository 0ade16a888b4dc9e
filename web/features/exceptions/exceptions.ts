import { inDecimals } from '../../ui/text/locale';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { Counted } from '../../ui/text/counted';
import { MANY_ROWS, ROW_HEIGHT, ROWS } from '../../ui/layout/rows';
import { Choice } from '../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { RouterLink } from '@angular/router';
import { withoutException, type CellException, type ExceptionKind } from '@core/book/exceptions';
import type { ShownStanding } from '@core/proposal/exception-effects';
import type { ChangesMade } from '@contract/scores';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { day } from '../../ui/text/dates';
import { fits } from '../../ui/text/find-words';
import { ExceptionForm } from './exception-form';
import { exceptionWords, KIND_WORDS } from './exception-words';
import type { ExceptionLine, ExceptionList } from '@contract/scores';
import { listName } from '../../ui/text/list-name';

interface Row {
  key: string;
  line: ExceptionLine;
  who: string;
  what: string;
  where: string;
  since: string;
  until: string;
  changes: string;
}

const figure = (s: { percent: string | null; letter: string | null }): string =>
  s.percent === null ? (s.letter ?? 'no grade') : [inDecimals(s.percent), s.letter].filter(Boolean).join(' ');

/** Every exception of the book on one page: who, what, why, since when, and what it changes. Each ends with one key. */
@Component({
  selector: 'lt-exceptions',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Counted, ROWS, Choice, InputText, RouterLink, ExceptionForm],
  templateUrl: './exceptions.html',
  styleUrl: './exceptions.css',
  host: { role: 'main', '(keydown)': 'key($event)' },
})
export class ExceptionsPage {
  protected readonly MANY = MANY_ROWS;
  protected readonly ROW = ROW_HEIGHT;
  /** From the address: what is chosen in the sentence already. */
  readonly student = input('');
  readonly assessment = input('');
  /** The kind that is to be made for them. */
  readonly make = input('');
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly list = signal<ExceptionList | null>(null);
  private readonly without = signal<{
    lines: ExceptionLine[];
    standings: ShownStanding[];
    now: ShownStanding[];
  } | null>(null);
  protected readonly problem = signal('');
  protected readonly busy = signal('');
  protected readonly words = signal('');
  protected readonly kind = signal('');

  private readonly rows = computed<Row[]>(() => {
    const page = this.store.page();
    const without = this.without();
    if (!page) return [];
    const lines = this.list()?.lines ?? [];
    return lines
      .map((line, i): Row => {
        const p = this.store.people().get(line.enrolment);
        const known = without?.lines === lines;
        const before = known ? without.standings[i] : undefined;
        const now = known ? without.now[i] : undefined;
        return {
          key: `${line.enrolment} ${line.assessment ?? ''} ${line.kind}`,
          line,
          who: p ? listName(p) : line.enrolment,
          what: exceptionWords(line, page.timeZone),
          where:
            line.assessment === null ? 'the whole book' : (this.store.titles()[line.assessment] ?? line.assessment),
          since: line.since ? day(line.since, page.timeZone) : '',
          until: line.until ? day(line.until, page.timeZone) : '',
          changes:
            !before || !now
              ? '…'
              : figure(before) === figure(now)
                ? 'nothing now'
                : `${figure(before)} → ${figure(now)}`,
        };
      })
      .sort((a, b) => a.who.localeCompare(b.who) || a.where.localeCompare(b.where));
  });
  protected readonly filtered = computed(() => {
    const [words, kind] = [this.words().trim(), this.kind()];
    return this.rows().filter(
      (r) =>
        (kind === '' || r.line.kind === kind) &&
        (words === '' || fits(`${r.who} ${r.what} ${r.where} ${r.line.reason} ${r.line.by}`, words) > 0),
    );
  });
  protected readonly kinds = computed(() => {
    const counts = new Map<ExceptionKind, number>();
    for (const r of this.rows()) counts.set(r.line.kind, (counts.get(r.line.kind) ?? 0) + 1);
    return [
      { value: '', text: 'every kind' },
      ...[...counts].map(([kind, n]) => ({ value: kind, text: `${KIND_WORDS[kind]} (${n})` })),
    ];
  });
  protected readonly hidden = computed(() => this.rows().length - this.filtered().length);

  constructor() {
    const keys = [
      { key: '↑ ↓', label: 'from one to the next' },
      { key: 'Delete', label: 'end it' },
      { key: 'Ctrl+Enter', label: 'keep the sentence' },
    ];
    this.statusBar.keys.set([...keys, { key: '?', label: 'all keys' }]);
    this.statusBar.sheet.set([{ title: 'Exceptions', keys }]);
    let waiting: ReturnType<typeof setTimeout> | undefined;
    let seen = -1;
    inject(DestroyRef).onDestroy(() => clearTimeout(waiting));
    effect(() => {
      // Anew with every loading of the book, and a moment after something of it changed, here or by others, or was kept:
      // what one typed just before coming here may still be on its way.
      const loaded = this.store.loaded();
      this.store.revision();
      this.store.outbox.unkept();
      clearTimeout(waiting);
      if (!this.store.cells()) return;
      if (loaded === seen) waiting = setTimeout(() => untracked(() => void this.load()), 400);
      else untracked(() => void this.load());
      seen = loaded;
    });
  }

  /** The book that the list is of. */
  private of = '';
  /** How often it was asked for: an answer that another overtook is not shown over it. */
  private asked = 0;

  protected async load(): Promise<void> {
    const id = this.store.id();
    const asked = ++this.asked;
    const isOvertaken = (): boolean => asked !== this.asked || id !== this.store.id();
    if (this.of !== id) this.list.set(null);
    this.of = id;
    try {
      const list = await this.api.get<ExceptionList>(`/books/${id}/exceptions`);
      if (isOvertaken()) return;
      // The first time the lines are shown at once; later what stands there stays until all of it is anew.
      if (this.list() === null) this.list.set(list);
      this.problem.set('');
      const held = list.lines.map((l) => ({ student: l.enrolment, item: l.assessment, kind: l.kind }));
      const now = await this.store.worker().whatIfCells(
        [...new Set(held.map((h) => h.student))].map((student) => ({
          student,
          item: '',
          change: { kind: 'clear' as const },
        })),
      );
      const standing = new Map(now.map((t) => [t.student, t.before]));
      const standings = await this.store.worker().without(held);
      if (isOvertaken()) return;
      this.list.set(list);
      this.without.set({
        lines: list.lines,
        standings,
        now: held.map((h) => standing.get(h.student) ?? { percent: null, letter: null }),
      });
    } catch (error) {
      if (!isOvertaken()) this.problem.set(messageOf(error));
    }
  }

  protected key(event: KeyboardEvent): void {
    const row = (event.target as HTMLElement).closest<HTMLElement>('tr[data-key]');
    if (!row || event.ctrlKey || event.altKey) return;
    const all = [...this.host.querySelectorAll<HTMLElement>('tr[data-key]')];
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by !== 0) all[Math.max(0, Math.min(all.length - 1, all.indexOf(row) + by))]?.focus();
    else if (event.key === 'Delete') {
      const found = this.filtered().find((r) => r.key === row.dataset['key']);
      if (found) this.end([found]);
    } else return;
    event.preventDefault();
  }

  /** Ends exceptions, one wish after the other however fast the key is pressed. The journal can put each back. */
  protected end(rows: Row[]): void {
    if (!this.store.mayManage() || rows.length === 0) return;
    this.ending = this.ending.then(() => this.endNow(rows));
  }
  private ending: Promise<void> = Promise.resolve();

  private async endNow(asked: Row[]): Promise<void> {
    // What was ended meanwhile, here or by somebody else, is not ended again.
    const there = new Set(this.filtered().map((r) => r.key));
    const rows = asked.filter((r) => there.has(r.key));
    if (rows.length === 0) return;
    const at = this.filtered().findIndex((r) => r.key === rows[0]!.key);
    this.busy.set(rows[0]!.key);
    try {
      for (const r of rows.filter((x) => x.line.assessment === null)) await this.endWhole(r.line);
      const cells = rows.filter((r) => r.line.assessment !== null);
      if (cells.length > 0) await this.endCells(cells.map((r) => r.line));
      if (cells.length < rows.length) await this.store.reload();
      await this.load();
      this.statusBar.announce(
        rows.length === 1
          ? `Ended: ${rows[0]!.who}, ${rows[0]!.what}. The journal can put it back.`
          : `${rows.length} ended. The journal can put them back.`,
      );
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
      await this.load();
    } finally {
      this.busy.set('');
    }
    setTimeout(() => {
      const all = this.host.querySelectorAll<HTMLElement>('tr[data-key]');
      all[Math.min(at, all.length - 1)]?.focus();
    });
  }

  private async endCells(lines: ExceptionLine[]): Promise<void> {
    // Several of one cell end in one change of it.
    const byCell = new Map<string, ExceptionLine[]>();
    for (const l of lines)
      byCell.set(`${l.enrolment} ${l.assessment}`, [...(byCell.get(`${l.enrolment} ${l.assessment}`) ?? []), l]);
    const cells = [];
    for (const own of byCell.values()) {
      const { enrolment, assessment } = own[0]!;
      const content = await this.store.worker().content(enrolment, assessment!);
      cells.push({
        assessment: assessment!,
        enrolment,
        version: this.store.cells()!.version[this.store.atCell(enrolment, assessment!)] ?? 0,
        change: {
          kind: 'put' as const,
          entry: own.reduce((c, l) => withoutException(c, l.kind as CellException), content),
        },
      });
    }
    const made = await this.operations.submit<ChangesMade>('POST', `/books/${this.store.id()}/changes`, {
      kind: 'exception',
      title: 'ended',
      cells,
    });
    await this.store.settle(made.cells);
  }

  private async endWhole(line: ExceptionLine): Promise<void> {
    const book = `/books/${this.store.id()}`;
    if (line.kind === 'extra-time')
      await this.operations.submit('PATCH', `${book}/enrolments`, {
        enrolments: [line.enrolment],
        extraTimeHours: 0,
        reason: '',
      });
    else
      await this.operations.submit('PUT', `${book}/overrides/${line.enrolment}`, {
        version: this.list()?.overrides.find((o) => o.enrolment === line.enrolment)?.version ?? 0,
        percent: null,
        letter: null,
        reason: '',
        until: null,
      });
  }
}
