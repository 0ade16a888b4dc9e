import { ChangeDetectionStrategy, Component, inject, output, signal } from '@angular/core';
import { messageOf } from '../../../data/api';
import { BookAnnotations } from '../../../data/annotations';
import { StatusBar } from '../../../ui/layout/status-bar';
import { AskText, type Question } from '../../../ui/form/ask-text';
import { MenuWord } from '../../../ui/form/menu-word';
import { moved } from '../grid/layout';
import { LedgerView } from './ledger-view';
import { fromQuery, DEFAULT_VIEW, type Only } from './view-settings';
import { TopLines } from './top-lines';

const newId = (letter: string): string => `${letter}-${crypto.randomUUID().slice(0, 13)}`;

/** The words over the ledger: who is shown, in which order, which columns, and the views one keeps. */
@Component({
  selector: 'lt-ledger-top',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MenuWord, AskText],
  providers: [TopLines],
  template: `
    @if (lines.sections().length > 1) {
      <lt-menu-word
        [text]="lines.sectionWord()"
        title="Which section is shown"
        [set]="look().section !== null"
        [entries]="lines.sectionLines()"
        (chosen)="view.change({ section: $event === '*' ? null : $event })"
      />
    }
    <lt-menu-word
      [text]="lines.whoWord()"
      title="Which students are shown"
      [set]="look().group !== null || look().only !== null || look().below !== null"
      [entries]="lines.whoLines()"
      (chosen)="who($event)"
    />
    <span class="quiet count">{{ view.rows().length }} of {{ view.store.students().length }}</span>
    <lt-menu-word
      [text]="lines.sortWord()"
      title="In which order"
      [set]="look().sort.by !== 'name' || look().sort.down"
      [entries]="lines.sortLines()"
      (chosen)="sort($event)"
    />
    <button type="button" class="word" [class.set]="look().asMarked" (click)="turned.emit()" title="Alt+M">
      {{ look().asMarked ? 'as marked' : 'what counts' }}
    </button>
    <lt-menu-word
      text="columns"
      title="Columns and rows"
      [set]="look().hidden.length + look().folded.length + look().order.length + look().criteria.length > 0"
      [entries]="lines.columnLines()"
      (chosen)="column($event)"
    />
    <lt-menu-word
      [text]="lines.viewWord()"
      title="Views you keep"
      [set]="lines.known() !== undefined"
      [entries]="lines.viewLines()"
      (chosen)="savedView($event)"
    />
    @defer (when asking() !== null; prefetch on timer(2s)) {
      <lt-ask-text [question]="asking()" (said)="answer($event)" (left)="asking.set(null)" />
    }
  `,
  styles: `
    :host {
      display: flex;
      gap: 4px 11px;
      align-items: baseline;
      flex-wrap: wrap;
    }
    .count {
      margin-left: -8px;
      white-space: nowrap;
    }
    .set {
      color: var(--plum);
      border-bottom-color: var(--plum);
    }
  `,
})
export class LedgerTop {
  protected readonly view = inject(LedgerView);
  protected readonly lines = inject(TopLines);
  private readonly annotations = inject(BookAnnotations);
  private readonly statusBar = inject(StatusBar);
  readonly turned = output<void>();
  protected readonly look = this.view.settings;
  protected readonly asking = signal<Question | null>(null);

  protected who(id: string): void {
    const [what, value = ''] = id.split(/ (.*)/);
    const { only, where, group } = this.look();
    const here = this.lines.here();
    if (what === '*') this.view.change({ group: null, only: null, below: null, where: null });
    else if (what === 'only') this.view.change({ only: only === value ? null : (value as Only) });
    else if (what === 'where' && here) this.view.change({ where: where === here.id ? null : here.id });
    else if (what === 'below') this.view.change({ below: this.look().below === value ? null : value });
    else if (what === 'group') this.view.change({ group: group === value ? null : value });
    else void this.groupAct(what!);
  }

  private async groupAct(what: string): Promise<void> {
    const group = this.annotations.groups().find((g) => g.id === this.look().group);
    if (what === 'make') return this.asking.set({ ...ASK_GROUP, id: 'group' });
    if (!group) return;
    if (what === 'rename')
      return this.asking.set({ ...ASK_GROUP, id: 'rename', value: group.title, does: 'Rename it' });
    const student = this.view.place()?.student;
    try {
      if (what === 'remove') {
        await this.annotations.removeGroup(group);
        this.view.change({ group: null });
      } else await this.annotations.keepGroup({ ...group, members: group.members.filter((m) => m !== student) });
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    }
  }

  protected sort(id: string): void {
    const { by, down } = this.look().sort;
    if (id === 'turn') return this.view.change({ sort: { by, down: !down } });
    const next = id.slice(3);
    // Figures are mostly looked at from the top.
    this.view.change({ sort: { by: next, down: next !== 'name' && next !== 'section' } });
  }

  protected column(id: string): void {
    const look = this.look();
    const here = this.lines.here()?.id;
    const toggled = (list: string[], value: string): string[] =>
      list.includes(value) ? list.filter((v) => v !== value) : [...list, value];
    if (id === 'hide' && here) this.view.change({ hidden: [...look.hidden, here] });
    else if (id === 'criteria' && here) this.view.change({ criteria: toggled(look.criteria, here) });
    else if (id === 'no-criteria') this.view.change({ criteria: [] });
    else if (id === 'show') this.view.change({ hidden: [] });
    else if (id === 'book-order') this.view.change({ order: [] });
    else if ((id === 'left' || id === 'right') && here)
      this.view.change({ order: moved(this.view.layout(), this.view.store.items(), here, id === 'left' ? -1 : 1) });
    else if (id.startsWith('fold ')) this.view.change({ folded: toggled(look.folded, id.slice(5)) });
    else if (id === 'roomy') this.view.change({ roomy: !look.roomy });
    else if (id === 'rank') this.view.change({ rank: !look.rank });
  }

  protected savedView(id: string): void {
    if (id === '*') return this.view.change(DEFAULT_VIEW);
    if (id === 'keep') return this.asking.set({ ...ASK_VIEW });
    if (id === 'forget') return void this.tryTo(() => this.annotations.removeView(this.lines.known()!.id));
    const view = this.annotations.views().find((v) => `view ${v.id}` === id);
    if (view) this.view.change(fromQuery(view.query));
  }

  protected async answer(text: string): Promise<void> {
    const question = this.asking()!;
    const group = this.annotations.groups().find((g) => g.id === this.look().group);
    try {
      if (question.id === 'view')
        await this.annotations.keepView({ id: newId('v'), title: text, query: this.lines.query() });
      else if (question.id === 'rename' && group) await this.annotations.keepGroup({ ...group, title: text });
      else {
        const { top, bottom } = this.view.selection();
        const rows = bottom > top ? this.view.rows().slice(top, bottom + 1) : this.view.rows();
        const members = rows.map((s) => this.view.store.students()[s]!);
        const id = newId('g');
        await this.annotations.keepGroup({ id, title: text, version: 0, members });
        this.view.change({ group: id });
      }
      this.asking.set(null);
    } catch (error) {
      this.asking.set({ ...question, value: text, problem: messageOf(error) });
    }
  }

  private async tryTo(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.statusBar.announce(messageOf(error), 'trouble');
    }
  }
}

const ASK_GROUP: Question = {
  id: 'group',
  title: 'A group of students',
  label: 'What the group is called',
  value: '',
  does: 'Make it',
  most: 60,
};
const ASK_VIEW: Question = {
  id: 'view',
  title: 'Keep this view',
  label: 'What the view is called; only you see it',
  value: '',
  does: 'Keep it',
  most: 60,
};
