import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal, viewChild } from '@angular/core';
import { Choice, optionsOf } from '../../../ui/form/choice';
import { Dialog } from 'primeng/dialog';
import { spreadOf } from '@core/statistics/spread';
import { PairPicture, type Pair } from '../../../ui/chart/pair-picture';
import { fileName, pngOf, save, svgText } from '../../../ui/chart/picture-file';
import { SpreadPicture } from '../../../ui/chart/spread-picture';
import { LedgerView } from '../view/ledger-view';
import { percentsOf, titleOfSubject, type Subject } from './column-subject';

/** A column's spread large, or two columns against each other; to copy or to save. */
@Component({
  selector: 'lt-column-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, Dialog, SpreadPicture, PairPicture],
  template: `
    <p-dialog
      [header]="title()"
      [modal]="true"
      closeAriaLabel="Leave it"
      [visible]="visible()"
      (visibleChange)="$event || left.emit()"
      [style]="{ width: '52rem' }"
    >
      @if (visible()) {
        <p class="choose">
          <span>beside</span>
          <lt-choice label="Beside what" [value]="other()?.id ?? ''" [options]="others()" (chosen)="choose($event)" />
          <button type="button" class="word" (click)="copy()">copy</button>
          <button type="button" class="word" (click)="saveAs('svg')">save as SVG</button>
          <button type="button" class="word" (click)="saveAs('png')">save as PNG</button>
          <output>{{ message() }}</output>
        </p>
        @if (other(); as o) {
          <div class="pair">
            <lt-pair-picture [pairs]="pairs()" [across]="title()" [up]="otherTitle()" />
            <div>
              <p>{{ alikeWords() }}</p>
              @if (odd().length > 0) {
                <h3>Far from the others</h3>
                <ul>
                  @for (name of odd(); track $index) {
                    <li>{{ name }}</li>
                  }
                </ul>
              }
            </div>
          </div>
        } @else {
          <lt-spread-picture
            [values]="percents()"
            [edges]="view.scale()"
            [mark]="mean()"
            [large]="true"
            [title]="title()"
          />
        }
      }
    </p-dialog>
  `,
  styles: `
    .choose {
      display: flex;
      gap: 16px;
      align-items: baseline;
      flex-wrap: wrap;
      margin-bottom: 12px;
    }
    .pair {
      display: grid;
      grid-template-columns: minmax(0, 460px) 1fr;
      gap: 20px;
    }
    ul {
      margin: 4px 0;
      padding-left: 18px;
    }
    h3 {
      margin-top: 12px;
    }
    @media (max-width: 700px) {
      .pair {
        grid-template-columns: 1fr;
      }
    }
  `,
})
export class ColumnDialog {
  readonly subject = input.required<Subject>();
  readonly visible = input.required<boolean>();
  readonly left = output<void>();
  protected readonly view = inject(LedgerView);
  private readonly spread = viewChild(SpreadPicture);
  private readonly pair = viewChild(PairPicture);
  protected readonly other = signal<Subject | null>(null);
  protected readonly message = signal('');

  protected readonly title = computed(() => titleOfSubject(this.view, this.subject()));
  protected readonly otherTitle = computed(() => (this.other() ? titleOfSubject(this.view, this.other()!) : ''));
  protected readonly percents = computed(() => percentsOf(this.view, this.subject()));
  protected readonly mean = computed(() => spreadOf(this.percents())?.mean ?? null);
  protected readonly others = computed(() =>
    optionsOf(
      [
        ...(this.view.store.page()?.assessments ?? []).filter((a) => a.id !== this.subject().id),
        ...this.criteria().filter((c) => c.id !== `${this.subject().of} ${this.subject().id}`),
        ...(this.subject().kind === 'standing' ? [] : [{ id: '*', title: 'Standing' }]),
      ],
      'nothing: how it is spread',
    ),
  );
  /** Those that stand as columns, by "assessment criterion". */
  private readonly criteria = computed(() =>
    this.view
      .layout()
      .flatMap((c) =>
        c.kind === 'criterion' ? [{ id: `${c.of} ${c.criterion}`, title: this.view.criterionTitle(c) }] : [],
      ),
  );
  protected readonly pairs = computed((): Pair[] => {
    const other = this.other();
    if (!other) return [];
    const across = this.percents();
    const people = this.view.store.people();
    return percentsOf(this.view, other).flatMap((y, i) => {
      const x = across[i]!;
      const person = people.get(this.view.store.students()[this.view.rows()[i]!]!);
      return Number.isNaN(x) || Number.isNaN(y) ? [] : [{ name: person?.family ?? '', x, y }];
    });
  });
  protected readonly odd = computed(() => this.pair()?.odd() ?? []);
  protected readonly alikeWords = computed(() => {
    const fit = this.pair()?.fit();
    const n = this.pairs().length;
    if (!fit) return `${n} students have both: too few, or too alike, to say how the two go together.`;
    return `${n} students have both. Correlation ${fit.r.toFixed(2)}.`;
  });

  protected choose(id: string): void {
    const [of, criterion] = id.split(' ') as [string, string?];
    if (criterion !== undefined) this.other.set({ kind: 'criterion', id: criterion, of });
    else this.other.set(id === '' ? null : id === '*' ? { kind: 'standing', id: '*' } : { kind: 'item', id });
    this.message.set('');
  }

  private get svg(): SVGSVGElement {
    return (this.pair() ?? this.spread())!.svg;
  }

  protected async copy(): Promise<void> {
    try {
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': pngOf(this.svg) })]);
      this.message.set('Copied.');
    } catch {
      this.message.set('This browser does not let pictures be copied here. Save it instead.');
    }
  }

  protected async saveAs(end: 'svg' | 'png'): Promise<void> {
    const name = fileName([this.title(), this.otherTitle()].filter(Boolean).join(' and '), end);
    const blob =
      end === 'png' ? await pngOf(this.svg) : new Blob([svgText(this.svg)], { type: 'image/svg+xml;charset=utf-8' });
    save(name, blob);
    this.message.set(`Saved as ${name}.`);
  }
}
