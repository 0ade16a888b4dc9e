import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  output,
  resource,
  untracked,
} from '@angular/core';
import { messageOf } from '../../data/api';
import { GuidePages } from './guide-pages';

/** A page of the guide, at one of its parts. Its links are handed out, so that whoever shows it goes on reading. */
@Component({
  selector: 'lt-guide-reader',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (page(); as p) {
      <h1>{{ p.title }}</h1>
      @for (part of p.parts; track part.id) {
        <section [id]="'guide-' + part.id" [class.here]="part.id !== '' && part.id === wanted().part" tabindex="-1">
          <div [innerHTML]="part.html"></div>
        </section>
      }
      @if (p.path !== '') {
        <p class="back"><a href="/guide">First steps, and all of the guide</a></p>
      }
    } @else if (problem()) {
      <p class="problem" role="alert">
        {{ problem() }} <button type="button" class="word" (click)="pages.reload()">Try again</button>
      </p>
    } @else if (pages.hasValue()) {
      <h1>No such page</h1>
      <p>The guide has no page of this name. <a href="/guide">First steps, and all of the guide</a></p>
    }
  `,
  styleUrl: './guide-reader.css',
  host: { '(click)': 'follow($event)' },
})
export class GuideReader {
  /** "rules/lateness", "ledger#undo"; empty for the first page. */
  readonly place = input.required<string>();
  readonly went = output<string>();
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly injector = inject(Injector);
  private readonly source = inject(GuidePages);
  protected readonly pages = resource({ loader: () => this.source.load() });
  protected readonly problem = computed(() => (this.pages.error() ? messageOf(this.pages.error()) : ''));
  protected readonly wanted = computed(() => {
    const [path = '', part = ''] = this.place().split('#');
    return { path, part };
  });
  protected readonly page = computed(() =>
    this.pages.hasValue() ? (this.pages.value().find((p) => p.path === this.wanted().path) ?? null) : null,
  );

  constructor() {
    effect(() => {
      const { part } = this.wanted();
      if (!this.page()) return;
      untracked(() => afterNextRender(() => this.show(part), { injector: this.injector }));
    });
  }

  private show(part: string): void {
    const at = part === '' ? null : this.host.querySelector<HTMLElement>(`#guide-${CSS.escape(part)}`);
    (at ?? this.host.querySelector('h1'))?.scrollIntoView({ block: at ? 'start' : 'end' });
  }

  protected follow(event: MouseEvent): void {
    if (event.ctrlKey || event.metaKey || event.shiftKey) return;
    const link = (event.target as HTMLElement).closest('a');
    const href = link?.getAttribute('href');
    if (!href?.startsWith('/guide')) return;
    event.preventDefault();
    this.went.emit(href.replace(/^\/guide\/?/, ''));
  }
}
