import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { Button } from 'primeng/button';
import { canonical } from '@core/book/canonical';
import type { RichText } from '@core/text/rich-text';
import type { Handout, Instructions } from '@contract/work/instructions';
import { Api, ApiProblem, messageOf, newOperation } from '../../data/api';
import { BookStore } from '../../data/book';
import { KeptDrafts } from '../../data/kept-drafts';
import { Operations } from '../../data/operations';
import { Uploads } from '../../data/work/uploads';
import { StatusBar } from '../../ui/layout/status-bar';
import { sizeOf } from '../../ui/text/file-words';
import { RichTextEditor } from '../../text/rich-text-editor';

/** What is typed over, and over which version. */
interface Left {
  version: number;
  body: RichText;
}

/** What an assessment asks for: its words, and the files that go with it. */
@Component({
  selector: 'lt-instructions-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Button, RichTextEditor],
  providers: [Uploads],
  template: `
    <h2>What it asks for</h2>
    @if (now()) {
      <lt-rich-text-editor
        label="Instructions"
        [value]="shown()"
        [disabled]="!mayWrite()"
        (typed)="type($event)"
        (keydown.control.enter)="$event.stopPropagation(); keep()"
      />
      @if (changed() || problem()) {
        <p class="acts">
          <p-button label="Keep the words" size="small" [loading]="busy()" (onClick)="keep()" />
          <button type="button" class="word" (click)="drop()">as they were</button>
          <span class="quiet">Students see them once they are kept.</span>
        </p>
      }
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
      <ul>
        @for (f of files(); track f.id) {
          <li>
            @if (f.sha256) {
              <a class="word" [href]="address(f)" download>{{ f.name }}</a>
            } @else {
              <b>{{ f.name }}</b>
            }
            <span class="quiet">
              {{ sizeOf(f.bytes) }}{{ f.worksheet ? ', a worksheet: everybody takes a copy of their own' : '' }}
              @if (!f.sha256) {
                <span class="blue">{{ way(f) }}</span>
              }
            </span>
            @if (mayWrite()) {
              <button type="button" class="word" [attr.aria-label]="'take out ' + f.name" (click)="remove(f)">
                take out
              </button>
            }
          </li>
        }
      </ul>
      @if (mayWrite()) {
        <p class="acts">
          <label class="word"
            ><input type="file" multiple aria-label="Attach files" (change)="picked($event, false)" />attach
            files</label
          >
          <label class="word"
            ><input type="file" aria-label="Attach a worksheet" (change)="picked($event, true)" />attach a
            worksheet</label
          >
        </p>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 8px;
      margin: 10px 0 16px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 12px;
      padding: 3px 0;
      overflow-wrap: anywhere;
    }
    .acts {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
      align-items: center;
    }
    label {
      position: relative;
      overflow: hidden;
    }
    label input {
      position: absolute;
      inset: 0;
      opacity: 0;
      cursor: pointer;
    }
    label:focus-within {
      outline: 2px solid var(--teal);
    }
  `,
})
export class InstructionsBox {
  readonly assessment = input.required<string>();
  readonly mayWrite = input(false);
  private readonly store = inject(BookStore);
  private readonly api = inject(Api);
  private readonly operations = inject(Operations);
  private readonly drafts = inject(KeptDrafts);
  private readonly uploads = inject(Uploads);
  private readonly statusBar = inject(StatusBar);
  protected readonly sizeOf = sizeOf;
  protected readonly now = signal<Instructions | null>(null);
  /** What is typed; null: nothing is. */
  private readonly left = signal<Left | null>(null);
  protected readonly shown = computed(() => this.left()?.body ?? this.now()?.body ?? null);
  protected readonly changed = computed(
    () => this.left() !== null && canonical(this.left()!.body) !== canonical(this.now()?.body ?? null),
  );
  protected readonly files = computed(() => this.now()?.files ?? []);
  protected readonly busy = signal(false);
  protected readonly problem = signal('');

  constructor() {
    effect(() => {
      const path = this.path();
      if (path !== '') untracked(() => void this.load(path));
    });
  }

  private path(more = 'instructions'): string {
    const book = this.store.id();
    return book ? `/books/${book}/assessments/${this.assessment()}/${more}` : '';
  }

  private async load(path: string): Promise<void> {
    try {
      const now = await this.api.get<Instructions>(path);
      if (this.path() !== path) return;
      this.now.set(now);
      this.left.set(this.drafts.read<Left>(path));
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected type(body: RichText): void {
    const left = { version: this.left()?.version ?? this.now()!.version, body };
    this.left.set(left);
    this.drafts.keep(this.path(), left);
  }

  protected drop(): void {
    this.left.set(null);
    this.problem.set('');
    this.drafts.keep(this.path(), null);
  }

  protected async keep(): Promise<void> {
    const left = this.left();
    if (!left || this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    try {
      this.now.set(await this.operations.submit<Instructions>('PUT', this.path(), left));
      this.drop();
      this.statusBar.announce('Kept: students read it so from now on.');
    } catch (error) {
      // What is typed stays, over what stands there now: kept again, it replaces that knowingly.
      if (error instanceof ApiProblem && error.code === 'stale') await this.takeTheirs(left);
      this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  private async takeTheirs(left: Left): Promise<void> {
    await this.refresh();
    this.left.set({ ...left, version: this.now()!.version });
  }

  protected address(f: Handout): string {
    return `/api/v1${this.path('handouts')}/${f.id}`;
  }

  protected way(f: Handout): string {
    const way = this.uploads.progress().get(f.id);
    if (!way) return 'not all here: take it out and attach it again';
    return (
      way.failure ||
      `${Math.floor((100 * way.sent) / Math.max(1, f.bytes))} %${way.waits ? ', goes on when the line is back' : ''}`
    );
  }

  protected async picked(event: Event, worksheet: boolean): Promise<void> {
    const box = event.target as HTMLInputElement;
    const files = [...(box.files ?? [])];
    box.value = '';
    for (const file of files) {
      const id = newOperation();
      try {
        const wish = { id, name: file.name, bytes: file.size, worksheet };
        const now = await this.operations.submit<Instructions>('POST', this.path('handouts'), wish);
        this.now.set(now);
        const begun = now.files.find((f) => f.id === id)!;
        this.uploads.send(id, file, begun.upload, () => void this.refresh());
      } catch (error) {
        this.problem.set(messageOf(error));
      }
    }
  }

  /** Asks for it anew; what is typed stays. */
  private async refresh(): Promise<void> {
    try {
      this.now.set(await this.api.get<Instructions>(this.path()));
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }

  protected async remove(f: Handout): Promise<void> {
    this.uploads.stop(f.id);
    try {
      this.now.set(await this.operations.submit<Instructions>('POST', this.path(`handouts/${f.id}/remove`), {}));
    } catch (error) {
      this.problem.set(messageOf(error));
    }
  }
}
