import { cellKey } from '@contract/wire/cell-key';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  model,
  output,
  signal,
} from '@angular/core';
import { Decimals } from '../../../ui/text/decimals';
import { RouterLink } from '@angular/router';
import type { EntryContent } from '@core/book/change';
import type { Line } from '@core/working/sentences';
import { messageOf } from '../../../data/api';
import { BookAnnotations } from '../../../data/annotations';
import { BookStore } from '../../../data/book';
import { UnreadableEntries } from '../../../data/outbox/unreadable-entries';
import { AskText, type Question } from '../../../ui/form/ask-text';
import { KeyPause } from '../../../ui/timing/key-pause';
import { dayAndTime } from '../../../ui/text/dates';
import { shortContent } from '../../../ui/text/short-content';
import { WorkingLines } from '../../../ui/text/working-lines';
import { CellHistory } from './cell-history';
import { ColumnNumbers } from './column-numbers';
import { LedgerView } from '../view/ledger-view';
import { unlessClosed } from '../../../worker/sheet-session';
import { NOTE_LENGTH } from '@contract/wire/constants';
import { ActBox } from '../acts/act-box';
import type { ActPreview } from '../acts/act-preview';
import { type Subject } from './column-subject';

export interface Place {
  student: string;
  index: number;
  item: string | null;
}
export type InspectorTab = 'working' | 'history' | 'column';
const FACES: { id: InspectorTab; message: string }[] = [
  { id: 'working', message: 'working' },
  { id: 'history', message: 'history' },
  { id: 'column', message: 'column' },
];

/** Milliseconds without a step, an entry or a key after which the cursor rests. */
const REST_MS = 180;

/** The slip beside the ledger: the working of the number under the cursor, its history and note, or its column's numbers. */
@Component({
  selector: 'lt-cell-inspector',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ActBox, Decimals, WorkingLines, CellHistory, ColumnNumbers, AskText, RouterLink],
  templateUrl: './cell-inspector.html',
  styleUrl: './cell-inspector.css',
})
export class CellInspector {
  readonly place = input.required<Place | null>();
  readonly face = model.required<InspectorTab>();
  /** What the word in the line would do. */
  readonly preview = input<ActPreview | null>(null);
  readonly act = output<string>();
  readonly again = output<EntryContent>();
  /** What was opened here is closed: the keys belong to the grid again. */
  readonly done = output<void>();
  protected readonly store = inject(BookStore);
  private readonly view = inject(LedgerView);
  private readonly keyPause = inject(KeyPause);
  protected readonly annotations = inject(BookAnnotations);
  private readonly unreadableEntries = inject(UnreadableEntries);
  protected readonly faces = FACES;
  protected readonly item = signal<Line[]>([]);
  protected readonly whole = signal<Line[]>([]);
  protected readonly asking = signal<Question | null>(null);
  protected readonly person = computed(() =>
    this.place() ? this.store.people().get(this.place()!.student) : undefined,
  );
  protected readonly takesWork = computed(
    () => this.store.assessments().get(this.place()?.item ?? '')?.takesWork === true,
  );
  protected readonly namesHidden = computed(() => this.store.hidden().has(this.place()?.item ?? ''));
  protected readonly standing = computed(() =>
    this.place() ? this.store.standings()[this.place()!.index] : undefined,
  );
  private readonly key = computed(() => {
    const p = this.place();
    return p?.item ? cellKey(p.student, p.item) : '';
  });
  protected readonly fault = computed(() => this.store.faults().get(this.key()));
  protected readonly trouble = computed(() => this.store.outbox.troubles().get(this.key()));
  protected readonly unreadable = computed(() => this.unreadableEntries.all().get(this.key()));
  protected readonly remark = computed(() => {
    const p = this.place();
    this.annotations.notes();
    return p ? this.annotations.noteAt(p.student, p.item ?? '*') : null;
  });
  protected readonly theirs = computed(() => {
    const t = this.trouble();
    return t?.kind === 'clash' ? shortContent(t.theirs.entry) : '';
  });
  protected readonly about = computed(() => {
    const a = this.place()?.item ? this.store.assessments().get(this.place()!.item!) : undefined;
    if (!a) return 'the whole book';
    const due = a.due ? ` · due ${dayAndTime(a.due, this.store.page()!.timeZone)}` : '';
    return `${a.title} · of ${a.points}${due}`;
  });
  protected readonly subject = computed((): Subject => {
    const column = this.view.layout()[this.view.cursor().col];
    if (column?.kind === 'item') return { kind: 'item', id: column.id };
    if (column?.kind === 'criterion') return { kind: 'criterion', id: column.criterion, of: column.of };
    return column ? { kind: 'category', id: column.category } : { kind: 'standing', id: '*' };
  });
  protected readonly stamp = computed(() => {
    this.store.revision();
    return this.place() ? this.store.stampOf(this.place()!.index) : 0;
  });

  constructor() {
    effect((onCleanup) => {
      const place = this.place();
      this.store.revision();
      if (!place || !this.store.cells() || this.face() !== 'working') return;
      // While the cursor runs or somebody types, nothing is asked: the working comes when the hands rest.
      onCleanup(this.keyPause.after(REST_MS, () => void this.fetch(place).catch(unlessClosed)));
    });
  }

  private async fetch(place: Place): Promise<void> {
    const worker = this.store.worker();
    const titles = this.store.titles();
    const [item, whole] = await Promise.all([
      place.item ? worker.explainItem(place.student, place.item, titles) : null,
      worker.explainStanding(place.student, titles),
    ]);
    const now = this.place();
    if (now?.student !== place.student || now.item !== place.item) return;
    this.item.set(item?.lines ?? []);
    this.whole.set(whole.lines);
  }

  protected keepMine(): void {
    const p = this.place()!;
    void this.store.outbox.insist(p.student, p.item!);
  }

  protected takeTheirs(): void {
    const p = this.place()!;
    void this.store.takeTheirs(p.student, p.item!);
  }

  protected dropUnreadable(): void {
    this.unreadableEntries.drop([this.key()]);
  }

  /** Opens the staff note to write in. */
  writeNote(): void {
    const p = this.place();
    if (!p || !this.person()) return;
    const title = p.item ? this.store.assessments().get(p.item)!.title : 'the student';
    this.asking.set({
      id: `${p.student} ${p.item ?? '*'}`,
      title: `Staff note: ${this.person()!.family}, ${title}`,
      label: 'Students never see it. Ctrl+Enter keeps it; an empty one takes it away.',
      value: this.remark()?.note?.text ?? '',
      does: 'Keep it',
      most: NOTE_LENGTH,
      long: true,
    });
  }

  protected leaveNote(): void {
    this.asking.set(null);
    this.done.emit();
  }

  protected async keepNote(note: string): Promise<void> {
    const question = this.asking()!;
    const [student, place] = question.id.split(' ') as [string, string];
    try {
      await this.annotations.write(student, place, { note });
      this.leaveNote();
    } catch (error) {
      this.asking.set({ ...question, value: note, problem: messageOf(error) });
    }
  }
}
