import { ChangeDetectionStrategy, Component, type ElementRef, inject, input, output, viewChild } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import type { NotePlace } from '../../../data/work/outbox/note-outbox';
import { SheetNotes } from './sheet-notes';

/** What the end note of one student says, in one line, and a box that adds to it. */
@Component({
  selector: 'lt-note-line',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [InputText],
  template: `
    @if (notes.of(place()); as words) {
      <span class="said" [title]="words">{{ words }}</span>
    }
    @if (mayWrite()) {
      <input
        pInputText
        #box
        class="comment"
        autocomplete="off"
        maxlength="1000"
        [attr.aria-label]="'Comment for ' + name()"
        [placeholder]="notes.of(place()) ? 'add to it' : 'a short comment'"
        (focus)="notes.prepare(place())"
        (keydown)="press($event)"
        (blur)="add()"
      />
    }
    @if (notes.refusal(place()); as why) {
      <p role="alert">{{ why }}</p>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 10px;
      align-items: center;
      min-width: 0;
    }
    .said {
      flex: 1 1 45%;
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      color: var(--pencil);
      font-style: italic;
    }
    input {
      flex: 1 1 140px;
      min-width: 0;
    }
    p {
      margin: 0;
      flex-basis: 100%;
      color: var(--red);
    }
  `,
})
export class NoteLine {
  readonly place = input.required<NotePlace>();
  readonly name = input.required<string>();
  readonly mayWrite = input.required<boolean>();
  /** It is kept; the next student has the keys. */
  readonly done = output();
  /** The comment of another student has the keys. */
  readonly moved = output<1 | -1>();
  protected readonly notes = inject(SheetNotes);
  private readonly box = viewChild<ElementRef<HTMLInputElement>>('box');

  protected press(event: KeyboardEvent): void {
    const box = this.box()!.nativeElement;
    if (event.key === 'Escape') box.value = '';
    else if (event.key === 'Enter') void this.add().then((added) => added && this.done.emit());
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') this.moved.emit(event.key === 'ArrowUp' ? -1 : 1);
    else return;
    event.preventDefault();
  }

  /** Adds what was typed; true also where nothing was. What cannot be added stays in its box. */
  protected async add(): Promise<boolean> {
    const box = this.box()!.nativeElement;
    const words = box.value.trim();
    box.value = '';
    if (words === '' || (await this.notes.add(this.place(), words))) return true;
    if (box.value === '') box.value = words;
    return false;
  }
}
