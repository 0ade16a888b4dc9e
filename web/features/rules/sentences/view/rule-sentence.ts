import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MenuWord, type MenuLine } from '../../../../ui/form/menu-word';
import { ChoiceWord } from '../../words/choice-word';
import type { Draft } from '../../draft';
import { NumberWord } from '../../words/number-word';
import { manyText, STICKS, type ManyPiece, type Piece, type Sentence } from '../sentence';
import { pieceKeys } from '../../words/stable-keys';
import { TextWord } from '../../words/text-word';

interface Shown {
  key: string;
  piece: Piece;
  /** Punctuation that stands right behind it. */
  after: string;
  /** It stands right behind the piece before it. */
  tight: boolean;
  changed: boolean;
}

/** One rule as a sentence with its changeable words inside it. */
@Component({
  selector: 'lt-rule-sentence',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceWord, MenuWord, NumberWord, TextWord],
  template: `
    @for (s of shown(); track s.key) {
      @let p = s.piece;
      @if (!s.tight && !$first) {
        &ngsp;
      }
      @if (isText(p)) {
        <span>{{ p }}</span>
      } @else {
        @switch (p.kind) {
          @case ('number') {
            <lt-number-word
              [label]="p.label"
              [value]="p.value"
              [unit]="p.unit ?? ''"
              [least]="p.least ?? 0"
              [most]="p.most ?? 1000000"
              [whole]="p.whole === true"
              [changed]="s.changed"
              [after]="s.after"
              [fixed]="fixed()"
              (said)="said.emit(p.set($event))"
            />
          }
          @case ('choice') {
            <lt-choice-word
              [label]="p.label"
              [value]="p.value"
              [choices]="p.choices"
              [changed]="s.changed"
              [after]="s.after"
              [fixed]="fixed()"
              (said)="said.emit(p.set($event))"
            />
          }
          @case ('word') {
            @if (fixed() && p.value.length > LONG) {
              <b>{{ p.value }}</b>{{ s.after }}
            } @else {
              <lt-text-word
                [piece]="p"
                [changed]="s.changed"
                [after]="s.after"
                [fixed]="fixed()"
                (said)="said.emit($event)"
              />
            }
          }
          @case ('many') {
            @if (fixed()) {
              <b>{{ text(p) }}</b>{{ s.after }}
            } @else {
              <lt-menu-word
                class="many"
                [class.changed]="s.changed"
                [text]="text(p)"
                [title]="p.label"
                [entries]="lines(p)"
                (chosen)="said.emit(p.set(toggled(p, $event)))"
              />{{ s.after }}
            }
          }
          @case ('act') {
            @if (!fixed()) {
              <button type="button" class="word act" [attr.aria-label]="p.label" (click)="said.emit(p.does())">
                {{ p.text }}</button>{{ s.after }}
            }
          }
        }
      }
    }
  `,
  styles: `
    :host {
      display: block;
      overflow-wrap: anywhere;
    }
    .act {
      font: 12px var(--sans);
      margin-left: 6px;
    }
    @media print {
      .act {
        display: none;
      }
    }
    .many {
      font-weight: 700;
      color: var(--teal);
    }
    .many.changed {
      background: var(--plum-wash);
      --teal: var(--plum);
    }
  `,
})
export class RuleSentence {
  readonly sentence = input.required<Sentence>();
  /** Labels of the words that are other than in force. */
  readonly changed = input<ReadonlySet<string>>(new Set());
  readonly fixed = input(false);
  readonly said = output<Draft>();
  protected readonly text = manyText;
  /** Words that cannot be changed are broken over lines where they are longer than a box. */
  protected readonly LONG = 40;

  protected readonly shown = computed((): Shown[] => {
    const out: Omit<Shown, 'key'>[] = [];
    for (const piece of this.sentence().pieces) {
      const last = out[out.length - 1];
      if (typeof piece === 'string' && STICKS.test(piece) && last && typeof last.piece !== 'string') {
        const rest = piece.slice(1).trimStart();
        last.after = piece[0]!;
        if (rest !== '') out.push({ piece: rest, after: '', tight: false, changed: false });
        continue;
      }
      const changed = typeof piece !== 'string' && piece.kind !== 'act' && this.changed().has(piece.label);
      out.push({ piece, after: '', tight: typeof piece === 'string' && STICKS.test(piece), changed });
    }
    const keys = pieceKeys(out.map(({ piece }) => (typeof piece === 'string' ? 'text' : piece.kind)));
    return out.map((s, n) => ({ ...s, key: keys[n]! }));
  });

  protected isText(p: Piece): p is string {
    return typeof p === 'string';
  }

  protected lines(p: ManyPiece): MenuLine[] {
    return p.choices.map((c) => ({ id: c.value, text: c.text, kind: 'check', on: p.value.includes(c.value) }));
  }

  protected toggled(p: ManyPiece, id: string): string[] {
    return p.value.includes(id) ? p.value.filter((v) => v !== id) : [...p.value, id];
  }
}
