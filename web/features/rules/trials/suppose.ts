import { counted } from '@core/words/count';
import { cellKey } from '@contract/wire/cell-key';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Choice, optionsOf } from '../../../ui/form/choice';
import { InputText } from 'primeng/inputtext';
import { Button } from 'primeng/button';
import { supposeCells, type CellSupposition } from '@core/proposal/suppose-cells';
import { messageOf } from '../../../data/api';
import { BookStore } from '../../../data/book';
import { amountIn } from '../../../ui/text/amount';
import { putItems, type Draft } from '../draft';
import { RuleEdit } from '../rule-edit';
import { listName } from '../../../ui/text/list-name';

type Kind = CellSupposition['kind'] | 'left-out';
const KINDS: { value: Kind; text: string }[] = [
  { value: 'raised', text: 'have their score raised by' },
  { value: 'lowered', text: 'have their score lowered by' },
  { value: 'set', text: 'have a score set to' },
  { value: 'on-time', text: 'have their lateness waived' },
  { value: 'excused', text: 'are excused' },
  { value: 'left-out', text: 'have it left out of every total' },
];
const DONE: Record<Kind, string> = {
  raised: 'raised by',
  lowered: 'lowered by',
  set: 'set to',
  'on-time': 'lateness waived',
  excused: 'excused',
  'left-out': 'left out of every total',
};

/** A supposition of scores and states, tried like a rule: who would move if it were so. */
@Component({
  selector: 'lt-suppose',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, InputText, Button],
  template: `
    <h2>Suppose</h2>
    <p class="quiet lead">
      Try what scores or states would do, without touching any: these five raised by two, one assessment left out, its
      lateness waived for all. It is a trial like any other: keep it, compare it, make it or drop it.
    </p>
    <p class="sentence">
      Suppose that in
      <lt-choice label="Assessment" [value]="at()?.id ?? ''" [options]="itemOptions()" (chosen)="item.set($event)" />
      <lt-choice
        label="For whom"
        [fixed]="kind() === 'left-out'"
        [value]="whom()"
        [options]="who()"
        (chosen)="whom.set($event)"
      />
      <lt-choice label="What is supposed" [value]="kind()" [options]="KINDS" (chosen)="kind.set($any($event))" />
      @if (asksPoints()) {
        <input
          pInputText
          class="points mono"
          type="text"
          inputmode="decimal"
          aria-label="Points"
          [value]="points()"
          (input)="points.set($any($event.target).value)"
          (keydown.enter)="add()"
        />
        points.
      }
    </p>
    <p-button label="Suppose it" [disabled]="edit.fixed() || !at()" (onClick)="add()" />
    @if (message()) {
      <p class="problem" role="alert">{{ message() }}</p>
    }
    @if (edit.fixed()) {
      <p class="quiet">The teachers of this book can suppose something of it.</p>
    }
    @if (supposed().length > 0) {
      <h3>Supposed now</h3>
      <ul>
        @for (s of supposed(); track $index) {
          <li>
            {{ s.says }}
            <button type="button" class="word" [attr.aria-label]="'Take back: ' + s.says" (click)="takeBack($index)">
              take back
            </button>
          </li>
        }
      </ul>
    }
  `,
  styleUrl: '../sentences/view/part-head.css',
  styles: `
    h3 {
      margin: 22px 0 6px;
    }
    .sentence {
      font: 16px/2.5 var(--serif);
      margin-bottom: 10px;
    }
    .points {
      width: 64px;
      text-align: right;
    }
    .problem {
      margin-top: 10px;
    }
    ul {
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: 14px;
      max-width: 46em;
      padding: 6px 8px;
      overflow-wrap: anywhere;
    }
    li:nth-child(odd) {
      background: var(--bar);
    }
    li button {
      white-space: nowrap;
    }
  `,
})
export class Suppose {
  protected readonly edit = inject(RuleEdit);
  private readonly store = inject(BookStore);
  protected readonly KINDS = KINDS;
  protected readonly item = signal('');
  protected readonly whom = signal('all');
  protected readonly kind = signal<Kind>('raised');
  protected readonly points = signal('2');
  protected readonly message = signal('');
  protected readonly items = computed(() => this.edit.draft()?.items ?? []);
  protected readonly itemOptions = computed(() => optionsOf(this.items()));
  protected readonly at = computed(() => this.items().find((i) => i.id === this.item()) ?? this.items()[0]);
  protected readonly supposed = computed(() => this.edit.draft()?.supposed ?? []);
  protected readonly asksPoints = computed(() => ['raised', 'lowered', 'set'].includes(this.kind()));
  protected readonly who = computed(() => [
    { value: 'all', text: 'all students' },
    ...(this.store.page()?.sections ?? []).map((s) => ({ value: `section ${s.id}`, text: `those in ${s.title}` })),
    ...this.store.students().map((id) => {
      const p = this.store.people().get(id);
      return { value: `student ${id}`, text: p ? listName(p) : id };
    }),
  ]);

  /** The ids of those meant. */
  private meant(): Set<string> {
    const [kind, id] = this.whom().split(' ');
    if (kind === 'student') return new Set([id!]);
    const all = this.store.students();
    return new Set(kind === 'all' ? all : all.filter((s) => this.store.people().get(s)?.section === id));
  }

  protected async add(): Promise<void> {
    const [item, draft] = [this.at(), this.edit.draft()];
    if (!item || !draft || this.edit.fixed()) return;
    this.message.set('');
    const kind = this.kind();
    if (kind === 'left-out') return this.edit.try(putItems(draft, [item.id], { counts: false }));
    const points = amountIn(this.points());
    if (this.asksPoints() && points === null)
      return this.message.set(`“${this.points().trim()}” is no number of points, such as 2 or 2.5.`);
    try {
      const meant = this.meant();
      const column = (await this.store.worker().column(item.id)).filter((c) => meant.has(c.student));
      const what = (this.asksPoints() ? { kind, points: points! } : { kind }) as CellSupposition;
      const cells = supposeCells(item.id, column, what).map((c) => ({
        ...c,
        version: this.store.versionAt(c.student, c.item),
      }));
      if (cells.length === 0)
        return this.message.set(`There is nobody among them of whom that could be supposed in ${item.title}.`);
      const who = counted(cells.length, 'student');
      const amount = this.asksPoints() ? ` ${counted(points!, 'point')}` : '';
      const message = `${item.title}, ${who}: ${DONE[kind]}${amount}`;
      this.edit.try(this.with({ ...draft }, { says: message, cells }));
    } catch (error) {
      this.message.set(messageOf(error));
    }
  }

  /** What is supposed later of a cell stands in place of what was supposed of it before. */
  private with(draft: Draft, s: Draft['supposed'][number]): Draft {
    const now = new Set(s.cells.map((c) => cellKey(c.student, c.item)));
    const before = draft.supposed
      .map((b) => ({ ...b, cells: b.cells.filter((c) => !now.has(cellKey(c.student, c.item))) }))
      .filter((b) => b.cells.length > 0);
    return { ...draft, supposed: [...before, s] };
  }

  protected takeBack(n: number): void {
    const draft = this.edit.draft()!;
    this.edit.try({ ...draft, supposed: draft.supposed.filter((_, i) => i !== n) });
  }
}
