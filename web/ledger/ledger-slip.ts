import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import type { Line } from '@core/working/sentences';
import { BookStore } from '../state/book';
import { cellKey } from '../state/outbox';
import { WorkingLines } from '../ui/working-lines';
import { dayAndTime } from '../ui/dates';
import { shortContent } from '../ui/short-content';

export interface Place {
  student: string;
  index: number;
  item: string | null;
}

/** Milliseconds without a step or an entry after which the cursor rests: longer than the pause between keys when typing a column. */
const RESTS = 180;

/** The working slip beside the ledger: how the number under the cursor came about, and the standing. */
@Component({
  selector: 'lt-ledger-slip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [WorkingLines],
  template: `
    <aside aria-label="The working">
      @if (person(); as p) {
        <h2>{{ p.family }}{{ p.given ? ', ' + p.given : '' }}</h2>
        <p class="quiet">{{ about() }}</p>
        @if (trouble(); as t) {
          <div class="choose" role="alert">
            @if (t.kind === 'clash') {
              <p>Somebody else changed this after you saw it. Nothing is overwritten until you choose.</p>
              <p class="both">
                <span
                  >yours <b class="mono">{{ t.waiting.typed || 'nothing' }}</b></span
                ><span
                  >theirs <b class="mono">{{ theirs() }}</b></span
                >
              </p>
              <button type="button" class="word" (click)="keepMine()">keep mine</button>
              <button type="button" class="word" (click)="takeTheirs()">take theirs</button>
            } @else {
              <p>{{ t.says }}</p>
              <button type="button" class="word" (click)="takeTheirs()">put back what is kept</button>
            }
          </div>
        }
        @if (item().length > 0) {
          <lt-working-lines [lines]="item()" />
        }
        @if (place()?.item && store.mayScore()) {
          <p class="acts">
            <button type="button" class="word" (click)="act.emit('/late ')">say how late</button>
            <button type="button" class="word" (click)="act.emit('/due ')">own due date</button>
            <button type="button" class="word" (click)="act.emit('excused')">excuse</button>
          </p>
        }
        <h2 class="second">Standing {{ standing()?.percent ?? '' }} {{ standing()?.letter ?? '' }}</h2>
        <lt-working-lines [lines]="whole()" />
      } @else {
        <p class="quiet">Choose a cell: its working stands here.</p>
      }
    </aside>
  `,
  styles: `
    :host {
      min-height: 0;
      overflow: auto;
      background: var(--side);
      border-left: 1px solid var(--rule);
    }
    aside {
      padding: 14px 16px;
    }
    h2 {
      margin-bottom: 2px;
      overflow-wrap: anywhere;
    }
    .second {
      margin-top: 22px;
      margin-bottom: 6px;
    }
    lt-working-lines {
      display: block;
      margin-top: 10px;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 14px;
      margin-top: 10px;
    }
    .choose {
      border-left: 3px solid var(--blue);
      padding: 8px 10px;
      margin: 10px 0;
      background: var(--paper);
      display: grid;
      gap: 6px;
      justify-items: start;
    }
    .both {
      display: flex;
      gap: 18px;
    }
  `,
})
export class LedgerSlip {
  readonly place = input.required<Place | null>();
  readonly act = output<string>();
  protected readonly store = inject(BookStore);
  protected readonly item = signal<Line[]>([]);
  protected readonly whole = signal<Line[]>([]);
  protected readonly person = computed(() =>
    this.place() ? this.store.people().get(this.place()!.student) : undefined,
  );
  protected readonly standing = computed(() =>
    this.place() ? this.store.standings()[this.place()!.index] : undefined,
  );
  protected readonly trouble = computed(() => {
    const p = this.place();
    return p?.item ? this.store.outbox.troubles().get(cellKey(p.student, p.item)) : undefined;
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

  constructor() {
    effect((onCleanup) => {
      const place = this.place();
      this.store.revision();
      if (!place || !this.store.cells()) return;
      // While the cursor runs, nothing is asked: the working comes when it rests.
      const timer = setTimeout(() => void this.fetch(place), RESTS);
      onCleanup(() => clearTimeout(timer));
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
}
