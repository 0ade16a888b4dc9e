import { ChangeDetectionStrategy, Component, computed, inject, input, resource } from '@angular/core';
import { flowSize } from './marks/flow-size';
import { FlowSurface } from './marks/flow-surface';
import { MarkBoard } from './marks/mark-board';
import { codeLanguage, readText } from './read-text';

/** A text or code as it is, in figures' type where it is code; the colours of code come when they are ready. */
@Component({
  selector: 'lt-text-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FlowSurface],
  template: `
    <div class="paper" [style.width.px]="size().width" [style.font-size.px]="size().letters">
      <pre
        [class.code]="language() !== null"
        data-drawn="yes"
        tabindex="0"
        aria-label="The text"
      ><code #code>@for (p of parts(); track $index) {<span [class]="p.look">{{ p.text }}</span>}</code></pre>
      <lt-flow-surface [text]="code" />
    </div>
  `,
  styleUrl: './text-page.css',
})
export class TextPage {
  readonly bytes = input<Uint8Array>();
  /** Typed in the page instead. */
  readonly typed = input<string>();
  readonly name = input('');
  readonly width = input.required<number>();
  readonly zoom = input(1);
  private readonly board = inject(MarkBoard, { optional: true });
  protected readonly size = computed(() => flowSize(this.width(), this.zoom(), 14, this.board?.fixed() ?? false));
  private readonly text = computed(() => this.typed() ?? (this.bytes() ? readText(this.bytes()!) : ''));
  protected readonly language = computed(() => codeLanguage(this.name()));
  private readonly coloured = resource({
    params: () => (this.language() === null ? undefined : { text: this.text(), language: this.language()! }),
    loader: async ({ params }) => (await import('./highlight')).highlight(params.text, params.language),
  });
  protected readonly parts = computed(() =>
    this.coloured.hasValue() ? this.coloured.value()! : [{ text: this.text(), look: '' }],
  );
}
