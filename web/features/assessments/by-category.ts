import { counted } from '@core/words/count';
import { CdkDrag, CdkDragHandle, CdkDropList, CdkDropListGroup, type CdkDragDrop } from '@angular/cdk/drag-drop';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { Button } from 'primeng/button';
import type { PlacedItem } from '@core/book/assemble';
import { groupsOf } from '@core/book/document';
import { Api, messageOf } from '../../data/api';
import { Operations } from '../../data/operations';
import { BookStore } from '../../data/book';
import { StatusBar } from '../../ui/layout/status-bar';
import { dayAndTime } from '../../ui/text/dates';
import { groupTitle } from '../../ui/text/group-title';

interface Place {
  id: string;
  category: string;
}

/** The assessments in their categories, moved by drag or with Alt and the arrows; tried before the order is kept. */
@Component({
  selector: 'lt-by-category',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDropListGroup, CdkDropList, CdkDrag, CdkDragHandle, RouterLink, Button],
  template: `
    @if (changed()) {
      <div class="bar" role="status">
        <b>The order is another.</b>
        <span>{{ message() }}</span>
        <p-button label="Keep the order" [disabled]="fault() !== ''" [loading]="busy()" (onClick)="keep()" />
        <p-button label="Drop it" [text]="true" (onClick)="begin()" />
      </div>
    }
    @if (problem() || fault()) {
      <p class="problem" role="alert">{{ problem() || fault() }}</p>
    }
    <div cdkDropListGroup>
      @for (c of categories(); track c.id) {
        <section [attr.aria-label]="c.title">
          <h2>{{ c.title }}</h2>
          <ul cdkDropList [cdkDropListData]="c.id" (cdkDropListDropped)="dropped($event)">
            @for (a of c.items; track a.id; let i = $index) {
              <li cdkDrag [cdkDragData]="a.id" [cdkDragDisabled]="!store.mayManage()">
                @if (store.mayManage()) {
                  <button
                    type="button"
                    class="handle"
                    cdkDragHandle
                    [attr.data-id]="a.id"
                    [attr.aria-label]="'Move ' + a.title + ': Alt with the arrows up and down'"
                    (keydown)="key($event, a.id)"
                  >
                    ⠿
                  </button>
                }
                <a [routerLink]="['/book', store.id(), 'assessments', a.id]">{{ a.title }}</a>
                <span class="mono">of {{ a.points }}</span>
                <span class="quiet">{{ a.due }}</span>
              </li>
            } @empty {
              <li class="quiet empty">nothing yet</li>
            }
          </ul>
        </section>
      }
    </div>
  `,
  styles: `
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 14px;
      align-items: center;
      margin-top: 14px;
      padding: 8px 12px;
      background: var(--plum-wash);
      border-left: 3px solid var(--plum);
    }
    h2 {
      margin-top: 20px;
      padding-bottom: 5px;
      border-bottom: 1px solid var(--rule-strong);
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      min-height: 32px;
    }
    li {
      display: grid;
      grid-template-columns: 30px minmax(0, 1fr) 80px 120px;
      gap: 12px;
      align-items: center;
      min-height: 34px;
      padding: 2px 8px;
      background: var(--paper);
    }
    li:nth-child(even) {
      background: var(--bar);
    }
    li.empty {
      display: block;
      padding-top: 7px;
    }
    li a {
      color: inherit;
      font-weight: 700;
      text-decoration: none;
      overflow-wrap: anywhere;
    }
    li a:hover {
      text-decoration: underline;
    }
    .handle {
      border: 0;
      background: none;
      color: var(--pencil);
      cursor: grab;
      padding: 2px 4px;
    }
    .cdk-drag-preview {
      box-shadow: 0 4px 16px #14323a33;
    }
    .cdk-drag-placeholder {
      background: var(--marker);
    }
    .problem {
      margin-top: 10px;
    }
  `,
})
export class ByCategory {
  protected readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly statusBar = inject(StatusBar);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  protected readonly fault = signal('');
  protected readonly message = signal('');
  private readonly places = signal<Place[]>([]);
  private turn = 0;

  private readonly groups = computed(() => {
    const tree = this.store.rules()?.tree;
    return tree
      ? groupsOf(tree).map((g) => ({
          id: g.id,
          title: g === tree ? 'In no category' : groupTitle(g),
          root: g === tree,
          bare: !g.children.some((c) => c.type === 'group'),
        }))
      : [];
  });
  /** As the book has them. */
  private readonly kept = computed<Place[]>(() => {
    const known = new Set(this.groups().map((g) => g.id));
    const root = this.groups()[0]?.id ?? '';
    return (this.store.page()?.assessments ?? []).map((a) => ({
      id: a.id,
      category: known.has(a.category) ? a.category : root,
    }));
  });
  protected readonly categories = computed(() => {
    const zone = this.store.page()?.timeZone ?? 'UTC';
    return this.groups()
      .map((g) => ({
        ...g,
        items: this.places()
          .filter((p) => p.category === g.id)
          .map((p) => this.store.assessments().get(p.id))
          .filter((a) => a !== undefined)
          .map((a) => ({ id: a.id, title: a.title, points: a.points, due: a.due ? dayAndTime(a.due, zone) : '' })),
      }))
      .filter((g) => g.items.length > 0 || (g.bare && !g.root));
  });
  protected readonly changed = computed(() => JSON.stringify(this.places()) !== JSON.stringify(this.kept()));

  constructor() {
    effect(() => {
      this.kept();
      untracked(() => this.begin());
    });
  }

  protected begin(): void {
    // By category, so that what one sees is the order that is kept.
    this.places.set(this.kept());
    this.message.set('');
    this.fault.set('');
    this.problem.set('');
  }

  protected dropped(event: CdkDragDrop<string, string, string>): void {
    this.put(event.item.data, event.container.data, event.currentIndex);
  }

  /** Alt with an arrow moves within the category, and over its edge into the next one. */
  protected key(event: KeyboardEvent, id: string): void {
    const by = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0;
    if (by === 0 || !event.altKey) return;
    event.preventDefault();
    const all = this.categories();
    const at = all.findIndex((c) => c.items.some((x) => x.id === id));
    const from = all[at]!.items.findIndex((x) => x.id === id);
    const to = from + by;
    if (to >= 0 && to < all[at]!.items.length) this.put(id, all[at]!.id, to);
    else {
      const next = all[at + by];
      if (!next) return;
      this.put(id, next.id, by > 0 ? 0 : next.items.length);
    }
    setTimeout(() => this.host.querySelector<HTMLElement>(`[data-id="${id}"]`)?.focus());
  }

  private put(id: string, category: string, index: number): void {
    const others = this.places().filter((p) => p.id !== id);
    const before = others.filter((p) => p.category === category)[index];
    const at = before
      ? others.indexOf(before)
      : others.map((p) => p.category).lastIndexOf(category) + 1 || others.length;
    this.places.set([...others.slice(0, at), { id, category }, ...others.slice(at)]);
    void this.tryOut();
  }

  private async tryOut(): Promise<void> {
    const turn = ++this.turn;
    if (!this.changed()) return;
    const placed = new Map((await this.store.worker().placed()).map((p) => [p.item.id, p]));
    const items = this.places().flatMap((p): PlacedItem[] => {
      const found = placed.get(p.id);
      return found ? [{ ...found, category: p.category }] : [];
    });
    const { trial, problems } = await this.store.worker().whatIfItems({ items, rescaled: [] });
    if (turn !== this.turn) return;
    this.fault.set(problems[0] ?? '');
    const n = trial.movers.length;
    this.message.set(
      n === 0
        ? 'No standing changes by it.'
        : `${counted(n, 'standing changes', 'standings change')}, ${trial.crossing} across a letter.`,
    );
  }

  protected async keep(): Promise<void> {
    const was = new Map(this.kept().map((p) => [p.id, p.category]));
    this.busy.set(true);
    this.problem.set('');
    try {
      await this.operations.submit('PUT', `/books/${this.store.id()}/assessment-order`, {
        order: this.places().map((p) => p.id),
        moves: this.places()
          .filter((p) => was.get(p.id) !== p.category)
          .map((p) => ({
            assessment: p.id,
            category: p.category,
            version: this.store.assessments().get(p.id)!.version,
          })),
      });
      await this.store.reload();
      this.statusBar.announce('The order is kept.');
    } catch (error) {
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
