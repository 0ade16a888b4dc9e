import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { InputText } from 'primeng/inputtext';
import { Textarea } from 'primeng/textarea';
import { MOST_LEVELS } from '@core/rubric/document';
import { newOperation } from '../../data/api';
import { Choice } from '../../ui/form/choice';
import type { CriterionDraft } from './rubric-draft';

const STANDS = [
  { value: 'counts', text: 'counts' },
  { value: 'bonus', text: 'comes on top' },
  { value: 'shown', text: 'is only shown' },
];

/** One criterion as it is typed: its title, how it stands, and its levels side by side. */
@Component({
  selector: 'lt-criterion-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, InputText, Textarea],
  templateUrl: './criterion-editor.html',
  styleUrl: './criterion-editor.css',
  host: { role: 'group', '[attr.aria-label]': "'Criterion ' + place()" },
})
export class CriterionEditor {
  readonly criterion = input.required<CriterionDraft>();
  /** Counted from 1. */
  readonly place = input.required<number>();
  readonly weighted = input.required<boolean>();
  readonly disabled = input(false);
  readonly fault = input('');
  readonly typed = output<CriterionDraft>();
  readonly moves = output<1 | -1>();
  readonly removed = output();
  protected readonly STANDS = STANDS;
  protected readonly MOST = MOST_LEVELS;

  protected set(more: Partial<CriterionDraft>): void {
    this.typed.emit({ ...this.criterion(), ...more });
  }

  protected setLevel(id: string, more: Partial<CriterionDraft['levels'][number]>): void {
    this.set({ levels: this.criterion().levels.map((l) => (l.id === id ? { ...l, ...more } : l)) });
  }

  protected addLevel(): void {
    this.set({ levels: [...this.criterion().levels, { id: newOperation(), points: '', words: '' }] });
  }

  protected removeLevel(id: string): void {
    this.set({ levels: this.criterion().levels.filter((l) => l.id !== id) });
  }
}
