import { inject, Injectable, signal } from '@angular/core';
import { messageOf } from '../../../data/api';
import { unlessClosed } from '../../../worker/sheet-session';
import type { StudentWhatIf } from '../../../worker/what-if';
import { listName } from '../../../ui/text/list-name';
import type { BookAct, SlashRead } from '../editor/slash-words';
import { LedgerView } from '../view/ledger-view';
import { attemptsWords, changeWords, placeWords, pointsWords, whoWords } from './act-words';
import { BookActs } from './book-acts';
import { LedgerActs } from './ledger-acts';

/** What a word that is being typed would do, before it is done. */
export interface ActPreview {
  /** Whom or what it is about. */
  about: string;
  does: string;
  notes: readonly string[];
  key: 'Enter' | 'Ctrl+Enter';
  /** Standings that it moves; null: they are being worked out, or it moves none by its nature. */
  moves: readonly StudentWhatIf[] | null;
  problem: string;
}

/** Milliseconds without a key after which the effect is worked out. */
const REST_MS = 120;

type Shown = Omit<ActPreview, 'moves' | 'problem'>;
interface Effect {
  moves: readonly StudentWhatIf[] | null;
  notes?: readonly string[];
  problem?: string;
}

/** Says beside the ledger what the word in the line would do, and whose standing it would move. */
@Injectable()
export class ActPreviews {
  private readonly view = inject(LedgerView);
  private readonly store = this.view.store;
  private readonly acts = inject(LedgerActs);
  private readonly bookActs = inject(BookActs);
  readonly shown = signal<ActPreview | null>(null);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private asked = 0;

  /** What the line holds now; null: no word, or nothing that is done by one. */
  consider(text: string, read: SlashRead | null): void {
    const asked = ++this.asked;
    clearTimeout(this.timer);
    if (read?.kind !== 'change' && read?.kind !== 'act') return this.shown.set(null);
    // Of a whole sheet that is selected, thousands of cells are gone through: not at every key.
    this.timer = setTimeout(() => this.show(text, read, () => asked === this.asked), REST_MS);
  }

  private show(text: string, read: Extract<SlashRead, { kind: 'change' | 'act' }>, isLast: () => boolean): void {
    if (read.kind === 'act') this.bookActs.look(read.act);
    const shown = read.kind === 'change' ? this.changeShown(read) : this.actShown(read.act);
    shown.does = shown.does[0]!.toLocaleUpperCase() + shown.does.slice(1);
    this.shown.set({ ...shown, moves: null, problem: '' });
    const worked = read.kind === 'change' ? this.changeEffect(text, read) : this.actEffect(read.act);
    worked
      .then(
        ({ moves, notes = [], problem = '' }) => ({ ...shown, notes: [...shown.notes, ...notes], moves, problem }),
        (error: unknown) => ({ ...shown, moves: null, problem: messageOf(error) }),
      )
      .then((next) => isLast() && this.shown.set(next))
      .catch(unlessClosed);
  }

  private changeShown({ change }: Extract<SlashRead, { kind: 'change' }>): Shown {
    const cells = this.view.cells();
    const titles = [...new Set(cells.map((c) => this.titleOf(c.item)))];
    const names = [...new Set(cells.map((c) => c.student))].map((id) => this.nameOf(id));
    const does = `${changeWords(change, this.store.page()!.timeZone)}.`;
    return { about: placeWords(names, titles, cells.length), does, notes: [], key: 'Enter' };
  }

  private async changeEffect(text: string, { change }: Extract<SlashRead, { kind: 'change' }>): Promise<Effect> {
    const writes = this.acts.writesOf(text, new Map());
    if (!Array.isArray(writes)) return { moves: null, problem: writes.kind === 'refused' ? writes.message : '' };
    const moves = moved(await this.store.worker().whatIfCells(writes));
    if (change.kind !== 'attempt') return { moves };
    const placed = await this.store.worker().placed();
    const uses = new Set(
      [...new Set(writes.map((w) => w.item))].map((id) =>
        attemptsWords(placed.find((p) => p.item.id === id)?.item.attempts?.use),
      ),
    );
    return { moves, notes: [...uses] };
  }

  private actShown(act: BookAct): Shown {
    const students = this.bookActs.students().map((id) => this.nameOf(id));
    const columns = this.bookActs.columns();
    const titles = columns.map((id) => this.titleOf(id));
    if (act.kind === 'points') {
      const was = [...new Set(columns.map((id) => this.store.assessments().get(id)!.points))];
      return {
        about: titles.join(', '),
        does: `out of ${act.points}, no longer ${was.join(' or ')}.`,
        notes: [pointsWords(act, was[0] ?? 0)],
        key: 'Ctrl+Enter',
      };
    }
    if (act.kind === 'final') {
      const grade = act.percent ?? act.letter;
      const does =
        grade === null
          ? 'no final grade set by hand any more; the one worked out counts.'
          : `${grade}${act.percent === null ? '' : ' %'} is the final grade, whatever is worked out.`;
      return { about: whoWords(students), does, notes: [], key: 'Ctrl+Enter' };
    }
    const cells = this.view.cells().length;
    return {
      about: placeWords(students, titles, cells),
      does: 'added to the end note.',
      notes: ['It is read once it is released.'],
      key: 'Enter',
    };
  }

  private async actEffect(act: BookAct): Promise<Effect> {
    const problem = await this.bookActs.problem(act);
    if (problem !== '') return { moves: null, problem };
    if (act.kind === 'final')
      return { moves: moved(await this.store.worker().whatIfOverride(this.bookActs.students(), act)) };
    if (act.kind === 'feedback') return { moves: null };
    const columns = new Set(this.bookActs.columns());
    const placed = await this.store.worker().placed();
    const items = placed.map((p) => (columns.has(p.item.id) ? { ...p, item: { ...p.item, points: act.points } } : p));
    const rescaled = placed.flatMap(({ item: { id, points: from } }) =>
      columns.has(id) && act.scores === 'keep-percentages' && from > 0 ? [{ item: id, from, to: act.points }] : [],
    );
    const { trial, problems } = await this.store.worker().whatIfItems({ items, rescaled });
    return { moves: trial.movers, problem: problems[0] ?? '' };
  }

  private nameOf(id: string): string {
    const person = this.store.people().get(id);
    return person ? listName(person) : '';
  }

  private titleOf(id: string): string {
    return this.store.assessments().get(id)?.title ?? '';
  }
}

const moved = (all: readonly StudentWhatIf[]): StudentWhatIf[] =>
  all.filter(({ before, after }) => before.percent !== after.percent || before.letter !== after.letter);
