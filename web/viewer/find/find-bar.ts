import { ChangeDetectionStrategy, Component, type ElementRef, inject, signal, viewChild } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import { FindBoard } from './find-board';

/** Finds words in the leaf that is shown: a word, and a line once it is wanted. */
@Component({
  selector: 'lt-find-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText],
  template: `
    @if (open()) {
      <button type="button" class="word" aria-pressed="true" (click)="leave()">find</button>
      <span class="line" role="search">
        <input
          pInputText
          #line
          type="text"
          autocomplete="off"
          spellcheck="false"
          aria-label="Words to find"
          placeholder="find words"
          (input)="board.look(line.value)"
          (keydown.enter)="board.step(1); $event.preventDefault()"
          (keydown.shift.enter)="board.step(-1); $event.preventDefault()"
          (keydown.escape)="leave(); $event.stopPropagation()"
        />
        <span class="mono" role="status">{{ board.words() }}</span>
        <button type="button" class="word" (click)="board.step(-1)">before</button>
        <button type="button" class="word" (click)="board.step(1)">next</button>
        <button type="button" class="word" (click)="leave()">close</button>
      </span>
    } @else {
      <button type="button" class="word" (click)="enter()">find</button>
    }
  `,
  styles: `
    /* Over the work, below the line of its leaves, which stays as it is. */
    .line {
      position: absolute;
      z-index: 4;
      top: calc(100% + 8px);
      right: 14px;
      max-width: calc(100% - 28px);
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      align-items: baseline;
      padding: 6px 12px;
      background: var(--paper);
      border: 1px solid var(--rule);
      border-radius: var(--radius);
      box-shadow: 0 3px 12px rgb(20 50 58 / 18%);
    }
    input {
      width: 170px;
      padding: 2px 8px;
    }
    .mono {
      white-space: nowrap;
      min-width: 58px;
    }
  `,
})
export class FindBar {
  protected readonly board = inject(FindBoard);
  private readonly line = viewChild<ElementRef<HTMLInputElement>>('line');
  protected readonly open = signal(false);

  enter(): void {
    this.open.set(true);
    setTimeout(() => this.line()?.nativeElement.focus());
  }

  /** Another leaf is shown. */
  end(): void {
    if (!this.open()) return;
    this.open.set(false);
    this.board.leave();
  }

  protected leave(): void {
    this.end();
    this.board.root()?.focus({ preventScroll: true });
  }
}
