import { Directive, ElementRef, inject, signal } from '@angular/core';
import { onDocument } from './document-events';

/**
 * Marks its host while one writes within it. What shows or grows by it waits until no pointer is pressed: what somebody is
 * about to click stays where it is. A line that is only passed through (`data-line`) is none that one writes in.
 */
@Directive({
  host: {
    '[class.writing]': 'writing()',
    '(focusin)': 'look()',
    '(focusout)': 'lookSoon()',
  },
})
export class WritingWithin {
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly writing = signal(false);
  private pressed = false;

  constructor() {
    onDocument('pointerdown', () => (this.pressed = true));
    onDocument(['pointerup', 'pointercancel'], () => this.release());
  }

  private release(): void {
    this.pressed = false;
    this.lookSoon();
  }

  /** The focus is nowhere while it goes from one to the next; and a click follows the pointer. */
  protected lookSoon(): void {
    setTimeout(() => this.look());
  }

  protected look(): void {
    if (this.pressed) return;
    const at = document.activeElement;
    const writes =
      at !== null &&
      this.host.contains(at) &&
      at.matches('input:not([data-line]), [contenteditable=true], [role=toolbar] *');
    this.writing.set(writes);
  }
}
