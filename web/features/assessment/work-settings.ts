import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { MultiSelect } from 'primeng/multiselect';
import { FILE_KIND_WORDS, FILE_KINDS } from '@core/work/file-kinds';
import type { HandInKind, WorkSettings as Settings } from '@contract/work/submissions';
import { Choice } from '../../ui/form/choice';
import { DayBox } from '../../ui/form/day-box';

const KINDS: { value: string; text: string; kinds: HandInKind[] | undefined }[] = [
  { value: 'any', text: 'files, text or a link', kinds: undefined },
  { value: 'files', text: 'files', kinds: ['files'] },
  { value: 'text', text: 'text typed here', kinds: ['text'] },
  { value: 'link', text: 'a link', kinds: ['link'] },
  { value: 'files text', text: 'files or text', kinds: ['files', 'text'] },
  { value: 'files link', text: 'files or a link', kinds: ['files', 'link'] },
  { value: 'text link', text: 'text or a link', kinds: ['text', 'link'] },
];
const ATTEMPTS = [
  { value: '1', text: 'once' },
  ...[2, 3, 4, 5].map((n) => ({ value: String(n), text: `${n} times` })),
  { value: '*', text: 'as often as they like' },
];
const PRESENCE = [
  { value: 'work', text: 'is for the work alone' },
  { value: 'there', text: 'shows that one was there' },
];
const HEARS = [
  { value: 'nothing', text: 'of nothing' },
  { value: 'late', text: 'of late work' },
  { value: 'all', text: 'of everything' },
];
const BACK = [
  { value: 'back', text: 'can be taken back until it is due or somebody has opened it' },
  { value: 'stays', text: 'stays handed in' },
];

/** How work is handed in, in sentences: what is usual stands there already. */
@Component({
  selector: 'lt-work-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, DayBox, FormsModule, InputText, MultiSelect],
  template: `
    <p>
      It comes as
      <lt-choice label="As what it is handed in" [value]="kinds()" [options]="KINDS" (chosen)="setKinds($event)" />,
      <lt-choice
        label="How often it can be handed in"
        [value]="attempts()"
        [options]="ATTEMPTS"
        (chosen)="setAttempts($event)"
      />, open from
      <lt-day-box
        label="Open from"
        placeholder="now on"
        [zone]="zone()"
        [near]="near()"
        [now]="now()"
        [value]="work().opens ?? null"
        [disabled]="disabled()"
        (said)="set('opens', $event ?? undefined)"
      />.
    </p>
    @if (takesFiles()) {
      <p>
        A file may be
        <p-multiselect
          [options]="TYPES"
          optionLabel="text"
          optionValue="value"
          placeholder="of any kind"
          ariaLabel="Kinds of files that are taken"
          [showHeader]="false"
          [disabled]="disabled()"
          [ngModel]="work().types ?? []"
          (ngModelChange)="set('types', $event.length > 0 ? $event : undefined)"
        />
        of at most
        <input
          pInputText
          class="mono short"
          inputmode="numeric"
          aria-label="Megabytes of one file at most"
          placeholder="200"
          [disabled]="disabled()"
          [value]="work().mostMegabytes ?? ''"
          (change)="number('mostMegabytes', $any($event.target).value, 200)"
        />
        MB, at most
        <input
          pInputText
          class="mono short"
          inputmode="numeric"
          aria-label="Files at most"
          placeholder="50"
          [disabled]="disabled()"
          [value]="work().mostFiles ?? ''"
          (change)="number('mostFiles', $any($event.target).value, 50)"
        />
        files.
      </p>
    }
    <p>
      What is handed in
      <lt-choice
        label="Whether it can be taken back"
        [value]="work().keepsAll ? 'stays' : 'back'"
        [options]="BACK"
        (chosen)="set('keepsAll', $event === 'stays' ? true : undefined)"
      />.
    </p>
    <p>
      Its teachers hear
      <lt-choice
        label="Of what they hear"
        [value]="work().hears ?? 'nothing'"
        [options]="HEARS"
        (chosen)="set('hears', $event === 'nothing' ? undefined : $any($event))"
      />
      as it comes in. Handing in
      <lt-choice
        label="Whether handing in shows that one was there"
        [value]="work().presence ? 'there' : 'work'"
        [options]="PRESENCE"
        (chosen)="set('presence', $event === 'there' ? true : undefined)"
      />.
    </p>
    <p class="statement">
      Before it, the student ticks
      <lt-choice label="What the student ticks" [value]="ticks()" [options]="ticked()" (chosen)="setTicks($event)" />
      @switch (ticks()) {
        @case ('book') {
          @if (statement()) {
            <q>{{ statement() }}</q>
          }
        }
        @case ('own') {
          <input
            pInputText
            type="text"
            maxlength="500"
            aria-label="What the student ticks, in words"
            [disabled]="disabled()"
            [value]="work().statement ?? ''"
            (input)="writeStatement($any($event.target).value)"
          />
        }
      }
    </p>
  `,
  styles: `
    p {
      line-height: 2.6;
    }
    .short {
      width: 56px;
      text-align: right;
    }
    .statement {
      display: flex;
      gap: 8px;
      align-items: baseline;
      flex-wrap: wrap;
    }
    .statement input {
      flex: 1;
      min-width: 260px;
    }
    q {
      line-height: 1.4;
    }
  `,
})
export class WorkSettings {
  readonly work = input.required<Settings>();
  readonly zone = input('UTC');
  readonly near = input.required<string>();
  readonly now = input('');
  readonly disabled = input(false);
  /** What students tick where the assessment says nothing; '' nothing. */
  readonly statement = input('');
  readonly changed = output<Settings>();
  protected readonly KINDS = KINDS;
  protected readonly ATTEMPTS = ATTEMPTS;
  protected readonly BACK = BACK;
  protected readonly HEARS = HEARS;
  protected readonly PRESENCE = PRESENCE;
  protected readonly TYPES = FILE_KINDS.map((value) => ({ value, text: FILE_KIND_WORDS[value].many }));
  protected readonly kinds = computed(() => {
    const kinds = this.work().kinds;
    return kinds && kinds.length < 3 ? KINDS.find((k) => k.kinds?.join() === [...kinds].sort(inOrder).join())!.value : 'any'; // prettier-ignore
  });
  protected readonly attempts = computed(() => {
    const attempts = this.work().attempts;
    return attempts === null ? '*' : String(attempts ?? 1);
  });
  protected readonly takesFiles = computed(() => this.work().kinds?.includes('files') ?? true);

  private readonly own = signal(false);
  protected readonly ticks = computed(() => {
    const words = this.work().statement;
    return words?.trim() || this.own() ? 'own' : words === undefined && this.statement() ? 'book' : 'nothing';
  });
  protected readonly ticked = computed(() => [
    ...(this.statement() ? [{ value: 'book', text: 'what the book says:' }] : []),
    { value: 'nothing', text: 'nothing' },
    { value: 'own', text: 'these words:' },
  ]);

  protected setTicks(value: string): void {
    this.own.set(value === 'own');
    // The book's words are where one's own begin.
    this.set(
      'statement',
      value === 'own' ? this.statement() || undefined : value === 'nothing' && this.statement() ? '' : undefined,
    );
  }

  protected writeStatement(words: string): void {
    this.own.set(true);
    this.set('statement', words.trim() === '' ? (this.statement() ? '' : undefined) : words);
  }

  protected setKinds(value: string): void {
    this.set('kinds', KINDS.find((k) => k.value === value)!.kinds);
  }

  protected setAttempts(value: string): void {
    this.set('attempts', value === '*' ? null : value === '1' ? undefined : Number(value));
  }

  protected number(key: 'mostMegabytes' | 'mostFiles', text: string, most: number): void {
    const n = Math.round(Number(text.replace(',', '.')));
    this.set(key, text.trim() !== '' && Number.isFinite(n) && n >= 1 ? Math.min(n, most) : undefined);
  }

  protected set<K extends keyof Settings>(key: K, value: Settings[K] | undefined): void {
    const { [key]: _was, ...rest } = this.work();
    this.changed.emit(value === undefined ? rest : { ...rest, [key]: value });
  }
}

const ORDER: readonly HandInKind[] = ['files', 'text', 'link'];
const inOrder = (a: HandInKind, b: HandInKind): number => ORDER.indexOf(a) - ORDER.indexOf(b);
