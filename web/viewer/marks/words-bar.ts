import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MarkBoard } from './mark-board';

/** What can be made of the words that are chosen, beside them. */
@Component({
  selector: 'lt-words-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@if (place(); as p) {
    <div
      class="bar"
      role="toolbar"
      aria-label="The words that are chosen"
      [style.left.px]="p.left"
      [style.top.px]="p.top"
      (mousedown)="$event.preventDefault()"
    >
      <button type="button" class="word" (click)="board.markWords('highlight', false)">highlight</button>
      <button type="button" class="word" (click)="board.markWords('highlight', true)">comment</button>
      <button type="button" class="word" (click)="board.markWords('strike', true)">strike</button>
    </div>
  }`,
  styles: `
    .bar {
      position: fixed;
      display: flex;
      gap: 14px;
      padding: 6px 12px;
      background: var(--paper);
      border: 1px solid var(--ink);
      border-radius: var(--radius);
      box-shadow: 0 3px 10px rgb(0 0 0 / 18%);
      z-index: 20;
      white-space: nowrap;
    }
  `,
})
export class WordsBar {
  protected readonly board = inject(MarkBoard);
  /** Below the last line, within the window. */
  protected readonly place = computed(() => {
    const words = this.board.words();
    if (!words || !this.board.mayMark()) return null;
    const { edge } = words;
    const below = edge.bottom + 44 < innerHeight;
    return { left: Math.max(8, Math.min(innerWidth - 240, edge.left)), top: below ? edge.bottom + 6 : edge.top - 44 };
  });
}
