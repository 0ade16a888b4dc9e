import { ChangeDetectionStrategy, Component, computed, type ElementRef, inject, input, viewChild } from '@angular/core';
import { messageOf } from '../../../data/api';
import type { MarkedPlace } from '../../../data/work/outbox/mark-outbox';
import type { ShownMark } from '../../../data/work/work-marks';
import { MenuWord, type MenuLine } from '../../../ui/form/menu-word';
import { StatusBar } from '../../../ui/layout/status-bar';
import { save } from '../../../ui/chart/picture-file';
import { MarkCopies } from './mark-copies';

/** What can be had of the marks on one leaf, and brought in. */
@Component({
  selector: 'lt-copies-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MenuWord],
  template: `
    @if (lines().length > 0) {
      <lt-menu-word text="copies" [entries]="lines()" (chosen)="act($event)" />
      <input #box type="file" hidden accept=".json,.jsonld" aria-label="Annotations" (change)="bringIn(box)" />
    }
  `,
})
export class CopiesMenu {
  readonly place = input.required<MarkedPlace>();
  readonly leaf = input.required<string>();
  readonly label = input.required<string>();
  /** Marks on all leaves of the work. */
  readonly marks = input.required<readonly ShownMark[]>();
  readonly mayMark = input.required<boolean>();
  /** Makes the marked copy of this leaf; null: there are no marks on it. */
  readonly makeMarked = input.required<(() => Promise<{ name: string; bytes: Blob }>) | null>();
  private readonly copies = inject(MarkCopies);
  private readonly statusBar = inject(StatusBar);
  private readonly box = viewChild<ElementRef<HTMLInputElement>>('box');
  protected readonly lines = computed((): MenuLine[] => [
    ...(this.makeMarked() ? ([{ id: 'marked', kind: 'act', text: 'marked copy', more: 'PDF' }] as const) : []),
    ...(this.marks().length > 0 ? ([{ id: 'annotations', kind: 'act', text: 'as annotations', more: 'JSON-LD' }] as const) : []), // prettier-ignore
    ...(this.mayMark() ? ([{ id: 'bring', kind: 'act', text: 'bring annotations in …' }] as const) : []),
  ]);

  protected act(what: string): void {
    if (what === 'bring') return this.box()?.nativeElement.click();
    if (what === 'marked') this.statusBar.announce('The marked copy is made …');
    this.tell(what === 'marked' ? this.saveMarked() : this.copies.saveAnnotations(this.place(), this.label()).then(() => 'It is saved.')); // prettier-ignore
  }

  private async saveMarked(): Promise<string> {
    const { name, bytes } = await this.makeMarked()!();
    save(name, bytes);
    return 'It is saved.';
  }

  protected bringIn(box: HTMLInputElement): void {
    const [file] = box.files ?? [];
    box.value = '';
    if (file) this.tell(this.copies.bring(this.place(), this.leaf(), file));
  }

  private tell(done: Promise<string>): void {
    done.then(
      (words) => this.statusBar.announce(words),
      (error: unknown) => this.statusBar.announce(messageOf(error), 'trouble'),
    );
  }
}
