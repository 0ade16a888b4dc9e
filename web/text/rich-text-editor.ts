import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  effect,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { Editor, type Extensions } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';
import { cleanRichText, type RichText } from '@core/text/rich-text';
import { appendParagraph, appendWords, chosenWords, replaceWords, writeAtEnd } from './editor-changes';

/** What can be done to the words that are chosen: the word for it, and whether it is so where the cursor stands. */
interface Act {
  label: string;
  is: string;
  attrs?: Record<string, unknown>;
  run(editor: Editor): void;
}

const ACTS: Act[] = [
  { label: 'bold', is: 'bold', run: (e) => e.chain().focus().toggleBold().run() },
  { label: 'italic', is: 'italic', run: (e) => e.chain().focus().toggleItalic().run() },
  { label: 'heading', is: 'heading', run: (e) => e.chain().focus().toggleHeading({ level: 2 }).run() },
  { label: 'list', is: 'bulletList', run: (e) => e.chain().focus().toggleBulletList().run() },
  { label: 'numbers', is: 'orderedList', run: (e) => e.chain().focus().toggleOrderedList().run() },
  { label: 'quotation', is: 'blockquote', run: (e) => e.chain().focus().toggleBlockquote().run() },
];

/** Text with formatting, written as on paper; what is pasted is cut down to what is kept. */
@Component({
  selector: 'lt-rich-text-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="acts" role="toolbar" [attr.aria-label]="'Formatting: ' + label()">
      @for (a of ACTS; track a.label) {
        <button
          type="button"
          class="word"
          [class.on]="on().has(a.is)"
          [attr.aria-pressed]="on().has(a.is)"
          [disabled]="disabled()"
          (mousedown)="$event.preventDefault()"
          (click)="act(a)"
        >
          {{ a.label }}
        </button>
      }
      <button
        type="button"
        class="word"
        [class.on]="on().has('link')"
        [disabled]="disabled()"
        (mousedown)="$event.preventDefault()"
        (click)="linking.set(!linking())"
      >
        link
      </button>
      @if (linking()) {
        <input
          type="url"
          class="p-inputtext p-component"
          aria-label="Where the link leads"
          placeholder="https://…, empty takes it away"
          (keydown.enter)="$event.preventDefault(); link($any($event.target).value)"
          (keydown.escape)="linking.set(false)"
        />
      }
    </p>
    <div #place class="place"></div>
  `,
  styles: `
    :host {
      display: flex;
      flex-direction: column;
      border: 1px solid var(--pencil);
      border-radius: 5px;
      background: var(--paper);
    }
    /* A shadow lies below the text; an outline would be laid over it, a picture of its own with each letter. */
    :host:focus-within {
      box-shadow: 0 0 0 2px var(--teal);
    }
    @media (forced-colors: active) {
      :host:focus-within {
        outline: 2px solid;
      }
    }
    .acts {
      isolation: isolate;
      display: var(--acts, flex);
      order: var(--acts-order, 0);
      flex-wrap: wrap;
      gap: 2px 14px;
      align-items: center;
      padding: 5px 10px;
      border: 0 solid var(--rule);
      border-width: var(--acts-edges, 0 0 1px);
      margin: 0;
      line-height: 1.6;
    }
    .acts .on {
      background: var(--marker);
    }
    .acts input {
      flex: 1;
      min-width: 12em;
    }
    .place {
      max-height: 26em;
      overflow: auto;
    }
    .place ::ng-deep .tiptap {
      min-height: var(--least-text, 7em);
      padding: 8px 12px;
      outline: none;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      line-height: 1.5;
    }
    .place ::ng-deep .tiptap > * + * {
      margin-top: 0.6em;
    }
    .place ::ng-deep .tiptap :is(ul, ol) {
      padding-left: 1.6em;
    }
    .place ::ng-deep .tiptap h2 {
      font-size: 17px;
    }
    .place ::ng-deep .tiptap blockquote {
      margin: 0.6em 0;
      padding-left: 10px;
      border-left: 3px solid var(--rule);
    }
    .place ::ng-deep .tiptap a {
      color: var(--teal);
      text-decoration: underline;
    }
  `,
})
export class RichTextEditor {
  /** What stands there; another object replaces what is typed. */
  readonly value = input.required<RichText | null>();
  readonly label = input.required<string>();
  readonly disabled = input(false);
  /** Of a text that several write at once: what shares it. Its content is the shared one, and `value` is not looked at. */
  readonly shared = input<Extensions | null>(null);
  readonly typed = output<RichText>();
  /** What is typed behind a slash that begins a word; null: the cursor is not there. */
  readonly slashed = output<string | null>();
  /** Keys that are the list's while something is typed behind a slash, and those that leave the text. */
  readonly pressed = output<string>();
  protected readonly ACTS = ACTS;
  protected readonly on = signal<ReadonlySet<string>>(new Set(), {
    // Told with every key, and seldom another.
    equal: (a, b) => a.size === b.size && [...a].every((is) => b.has(is)),
  });
  protected readonly linking = signal(false);
  private readonly place = viewChild.required<ElementRef<HTMLElement>>('place');
  private editor: Editor | null = null;
  /** What was told last: given back, it is no news. */
  private told: RichText | null = null;

  constructor() {
    afterNextRender(() => this.begin());
    inject(DestroyRef).onDestroy(() => this.editor?.destroy());
    effect(() => {
      const [value, disabled] = [this.value(), this.disabled()];
      untracked(() => {
        if (!this.editor) return;
        this.editor.setEditable(!disabled, false);
        if (!this.shared() && value !== this.told) this.editor.commands.setContent(value ?? '', { emitUpdate: false });
      });
    });
  }

  private begin(): void {
    this.editor = new Editor({
      element: this.place().nativeElement,
      // Styles stand in this component: none is put into the page that its policy does not know.
      injectCSS: false,
      extensions: [
        StarterKit.configure({
          heading: { levels: [2, 3] },
          codeBlock: false,
          horizontalRule: false,
          link: { openOnClick: false, autolink: true, protocols: ['http', 'https', 'mailto'] },
          // What several write has an undo of its own, which takes back only what one wrote oneself.
          ...(this.shared() ? { undoRedo: false as const } : {}),
        }),
        ...(this.shared() ?? []),
      ],
      ...(this.shared() ? {} : { content: this.value() ?? '' }),
      editable: !this.disabled(),
      editorProps: {
        attributes: { 'aria-label': this.label(), role: 'textbox', 'aria-multiline': 'true' },
        handleKeyDown: (_view, event) => this.key(event),
        handleDOMEvents: {
          keydown: () => this.noteTyping(false),
          beforeinput: (_view, event) => this.noteTyping(event.inputType === 'insertText'),
        },
        handleScrollToSelection: () => this.isTyping,
      },
      onUpdate: ({ editor }) => {
        // What is shared is told by what shares it.
        if (this.shared()) return;
        this.told = cleanRichText(editor.getJSON());
        this.typed.emit(this.told);
      },
      onTransaction: ({ editor }) => {
        this.on.set(new Set([...ACTS.map((a) => a.is), 'link'].filter((is) => editor.isActive(is))));
        this.lookForSlash(editor);
      },
    });
  }

  /** A letter is being typed: the browser brings the cursor into sight by itself. */
  private isTyping = false;

  /** Gives that the event is not used up. */
  private noteTyping(is: boolean): false {
    this.isTyping = is;
    return false;
  }

  /** Where the slash stands that something is typed behind; null: nowhere. */
  private slash: number | null = null;
  private lookForSlash(editor: Editor): void {
    const { $from, empty } = editor.state.selection;
    const before = empty ? $from.parent.textBetween(0, $from.parentOffset, undefined, ' ') : '';
    const found = /(?:^|\s)\/([\p{L}\p{N}]*)$/u.exec(before);
    const query = found && editor.isFocused ? found[1]! : null;
    if (query === null && this.slash === null) return;
    this.slash = query === null ? null : $from.pos - query.length - 1;
    this.slashed.emit(query);
  }

  private key(event: KeyboardEvent): boolean {
    const ofList = this.slash !== null && ['Enter', 'Tab', 'ArrowUp', 'ArrowDown'].includes(event.key);
    if (!ofList && event.key !== 'Escape' && !(event.key === 'Enter' && event.altKey)) return false;
    this.pressed.emit(event.altKey ? `Alt+${event.key}` : event.key);
    event.preventDefault();
    event.stopPropagation();
    return true;
  }

  /** Words in the place of what is typed behind the slash. */
  putPhrase(words: string): void {
    if (!this.editor || this.slash === null) return;
    const { pos } = this.editor.state.selection.$from;
    this.editor.chain().focus().insertContentAt({ from: this.slash, to: pos }, { type: 'text', text: words }).run();
  }

  /** Words as a paragraph of their own at the end. The cursor stays where it is. */
  append(words: string): void {
    if (this.editor) appendParagraph(this.editor, words);
  }

  /** Goes on with the last line by these words. The cursor stays where it is. */
  goOn(words: string): void {
    if (this.editor) appendWords(this.editor, words);
  }

  /** Other words in the place of some, wherever they stand in one piece. False: nowhere. */
  replace(was: string, becomes: string): boolean {
    return this.editor !== null && replaceWords(this.editor, was, becomes);
  }

  /** Goes on writing at the end, with a first character; at once, so that the next key is the text's. False: it is not there yet. */
  writeOn(character: string): boolean {
    if (!this.editor) return false;
    writeAtEnd(this.editor, character);
    return true;
  }

  /** What is chosen, else the line that the cursor stands in. */
  sentence(): string {
    return this.editor ? chosenWords(this.editor) : '';
  }

  protected act(act: Act): void {
    if (this.editor) act.run(this.editor);
  }

  protected link(href: string): void {
    this.linking.set(false);
    const chain = this.editor?.chain().focus().extendMarkRange('link');
    if (href.trim() === '') chain?.unsetLink().run();
    else chain?.setLink({ href: href.trim() }).run();
  }
}
