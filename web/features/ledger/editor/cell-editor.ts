import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import type { CellChange } from '@core/book/change';
import { makesException } from '@core/book/exceptions';
import { completions, readTyped, splitReason } from '@core/import/typed';
import type { CellTarget, Step } from './cell-target';
import { dayReader, loadDays } from './lazy-days';
import { offered, readSlash, withWord, type BookAct, type Goal, type SlashRead } from './slash-words';
import { completeTyped } from '../../../ui/form/complete-typed';
import { LedgerView } from '../view/ledger-view';

/**
 * The line one types into, over the cell. While a cell is edited it shows what was marked. Words are completed as
 * typed; what cannot be read stays, with the sentence that says why.
 */
@Component({
  selector: 'lt-cell-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './cell-editor.html',
  styleUrl: './cell-editor.css',
})
export class CellEditor {
  readonly target = input.required<CellTarget>();
  readonly label = input('');
  /** Near the foot of the sheet, what is offered stands above the line. */
  readonly upward = input(false);
  /** Near the right end of the sheet it stands to the left. */
  readonly atEdge = input(false);
  readonly entered = output<{ change: CellChange; typed: string; step: Step; all: boolean }>();
  readonly closed = output<Step>();
  readonly goes = output<Goal>();
  /** What cannot be read stays in the cell as it was typed. */
  readonly unreadableEntered = output<{ text: string; message: string; step: Step }>();
  /** An action word over more than one cell. */
  readonly slashed = output<string>();
  /** An act on more than cells; the line stays open until it is done. */
  readonly acted = output<{ act: BookAct; reason: string }>();
  /** What the line holds is another; null: it holds no word of action. */
  readonly considered = output<{ text: string; read: SlashRead } | null>();
  /** Cells that are selected with this one. */
  readonly selected = input(1);

  private readonly view = inject(LedgerView);
  private readonly line = viewChild.required<ElementRef<HTMLInputElement>>('line');
  protected readonly message = signal('');
  private readonly text = signal('');
  private accepted = '';
  private began = '';
  /** Nothing is being typed: kept, left, or not opened yet. */
  private done = true;
  /** How often the line was opened. */
  private opened = 0;
  /** What was typed is being done. */
  protected readonly busy = signal(false);
  /** What the line holds is done by Ctrl+Enter alone. */
  protected readonly waits = signal(false);
  protected readonly onStanding = computed(() => this.target().item === '');
  protected readonly wide = computed(() => this.text().includes('/') || this.onStanding());
  protected readonly words = computed(() => {
    const text = this.text();
    if (text.startsWith('/')) return offered(text).map((w) => ({ word: `/${w.word} ${w.then}`.trim(), does: w.label }));
    if (this.onStanding()) return [];
    return completions(text, this.target().marks).length > 1
      ? completions(text, this.target().marks).map((word) => ({ word, does: '' }))
      : [];
  });

  /** Begins with what was typed to open it, or with what was marked, all of it selected. */
  begin(first: string | null): void {
    const box = this.line().nativeElement;
    this.done = false;
    this.opened++;
    this.accepted = '';
    this.message.set('');
    this.busy.set(false);
    box.value = this.began = first ?? this.marked();
    this.text.set(box.value);
    this.consider();
    box.focus({ preventScroll: true });
    if (first === null) box.select();
    else box.setSelectionRange(first.length, first.length);
  }

  /** Shows what the cell holds, once all of it is known, unless something was typed meanwhile. */
  refresh(): void {
    const box = this.line().nativeElement;
    const whole = box.selectionStart === 0 && box.selectionEnd === box.value.length;
    if (box.value === this.began && whole && box.value !== this.marked()) this.begin(null);
  }

  /** Keeps what was typed and closes; what cannot be read stays in the cell, marked. */
  leave(): boolean {
    if (this.done) return true;
    // What is being done goes on, and says what came of it at the foot.
    if (this.busy() || this.isForLater() || this.onStanding()) {
      this.finish(() => this.closed.emit('stay'));
      return true;
    }
    this.enter('stay');
    const message = this.message();
    if (!this.done) this.finish(() => this.unreadableEntered.emit({ text: this.typedText(), message, step: 'stay' }));
    return this.done;
  }

  private typedText(): string {
    return this.line().nativeElement.value.trim();
  }

  private marked(): string {
    const { content, unreadableText } = this.target();
    if (unreadableText !== null) return unreadableText;
    if (content.state) return content.state === 'awaiting' ? 'awaited' : content.state;
    if (content.set !== undefined) return String(content.set);
    const last = [...(content.attempts ?? [])].reverse().find((a) => a.score !== undefined || a.mark !== undefined);
    return last?.mark ?? (last?.score === undefined ? '' : String(last.score));
  }

  protected typed(event: Event): void {
    const box = event.target as HTMLInputElement;
    this.message.set('');
    const typed = box.value;
    if (!this.onStanding()) completeTyped(event, this.target().marks);
    this.text.set(typed);
    this.consider();
  }

  /** The word of action that the line holds: on the standing whatever is typed is a final grade. */
  private slash(whole = this.line().nativeElement.value): string | null {
    const text = whole.trim();
    if (text.startsWith('/')) return text;
    return this.onStanding() && text !== '' ? `/final ${text}` : null;
  }

  private consider(): void {
    const text = this.slash();
    // Without a line it is asked for again at the next key.
    if (text !== null && dayReader() === null) loadDays().catch(() => undefined);
    this.waits.set(this.isForLater());
    this.considered.emit(text === null || text === '/' ? null : { text, read: this.read(text) });
  }

  private read(text: string): SlashRead {
    const { content, due, points, marks } = this.target();
    const page = this.view.store.page()!;
    const read = readSlash(text, {
      ...{ timeZone: page.timeZone, asOf: page.asOf, due, points, marks, readDay: dayReader() },
      hasWork: (content.attempts?.length ?? 0) > 0 || this.selected() > 1,
    });
    const ofCell = read.kind === 'change' || (read.kind === 'act' && read.act.kind !== 'final');
    return this.onStanding() && ofCell
      ? { kind: 'refused', message: 'This is about a cell, and here is the standing.' }
      : read;
  }

  /** It is done by Ctrl+Enter and by nothing else. */
  private isForLater(): boolean {
    const text = this.slash();
    if (text === null) return false;
    const read = this.read(text);
    return read.kind === 'act' && isWeighty(read.act);
  }

  protected make(): void {
    this.enter('stay', false, true);
  }

  /** What was asked for is not done: it stays in the line, with why. */
  refuse(message: string): void {
    this.busy.set(false);
    this.message.set(message);
  }

  protected key(event: KeyboardEvent): void {
    const step = STEPS[event.key];
    if (event.key === 'Escape') {
      this.finish(() => this.closed.emit('stay'));
    } else if (this.busy()) return event.preventDefault();
    else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) this.enter('stay', false, true);
    else if (event.key === 'Tab') this.enter(event.shiftKey ? 'left' : 'right');
    else if (event.key === 'Enter' && event.altKey) this.enter('stay', true);
    else if (step) this.enter(event.shiftKey && event.key === 'Enter' ? 'up' : step);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Clicking elsewhere keeps what was typed where it can be read; what cannot stays open. */
  protected left(): void {
    this.leave();
  }

  private enter(step: Step, all = false, sure = false): void {
    const whole = this.line().nativeElement.value;
    const slash = this.slash(whole);
    if (slash !== null) return this.act(slash, step, sure);
    const then = withWord(whole);
    const text = then?.typed ?? whole;
    if (this.onStanding()) return this.finish(() => this.closed.emit(step));
    if (text === this.marked() && this.target().unreadableText === null && !all)
      return then ? this.act(then.slash, 'stay', sure) : this.finish(() => this.closed.emit(step));
    const { points, marks } = this.target();
    const read = readTyped(splitReason(text).text, { points, marks });
    if (read.kind === 'refused') return this.refused(text, read.message, step);
    if (read.kind === 'blank')
      return this.finish(() => this.entered.emit({ change: { kind: 'clear' }, typed: '', step, all }));
    if (this.wantsReason(text, read.change)) return this.message.set(WANTS_REASON);
    if (read.above && this.accepted !== text) {
      this.accepted = text;
      return this.message.set(`${text.trim()} is more than the ${points} possible. Enter once more keeps it.`);
    }
    this.finish(() => {
      this.entered.emit({ change: read.change, typed: text, step: then ? 'stay' : step, all });
      if (then) this.act(then.slash, 'stay', sure);
    });
  }

  /** Said once; the second time the text stays in the cell as it is, marked, and one goes on. */
  private refused(text: string, message: string, step: Step): void {
    if (this.accepted === text)
      return this.finish(() => this.unreadableEntered.emit({ text: this.typedText(), message, step }));
    this.accepted = text;
    this.message.set(message);
  }

  private act(text: string, step: Step, sure: boolean): void {
    const read = this.read(text);
    if (read.kind === 'refused') {
      this.message.set(read.message);
      return dayReader() === null ? this.whenDaysCanBeRead(text, step, sure) : undefined;
    }
    if (read.kind === 'go') return this.finish(() => this.goes.emit(read.to));
    if (read.kind === 'act') {
      if (isWeighty(read.act) && !sure)
        return this.message.set('No bare key does it. Beside the sheet stands what it changes.');
      this.busy.set(!this.done);
      return this.acted.emit({ act: read.act, reason: splitReason(text).reason });
    }
    if (this.wantsReason(text, read.change)) return this.message.set(WANTS_REASON);
    if (read.above && this.accepted !== text) {
      this.accepted = text;
      return this.message.set(`That is more than the ${this.target().points} possible. Enter once more keeps it.`);
    }
    if (this.selected() > 1) return this.finish(() => this.slashed.emit(text));
    const then = step === 'down' ? 'stay' : step;
    this.finish(() => this.entered.emit({ change: read.change, typed: text, step: then, all: false }));
  }

  /** Does what was asked for once what reads days is there, unless something else is typed meanwhile. */
  private whenDaysCanBeRead(text: string, step: Step, sure: boolean): void {
    const opened = this.opened;
    const isSame = () => !this.done && opened === this.opened && this.slash() === text;
    loadDays().then(
      () => {
        if (isSame()) this.act(text, step, sure);
      },
      () => {
        if (isSame()) this.message.set('Days cannot be read without a line. Enter tries again.');
      },
    );
  }

  /** The school wants a reason for an exception, and none follows. */
  private wantsReason(text: string, change: CellChange): boolean {
    return (
      this.view.store.page()?.wantsReasons === true &&
      splitReason(text).reason === '' &&
      makesException(this.target().content, change)
    );
  }

  private finish(then: () => void): void {
    this.done = true;
    this.message.set('');
    this.waits.set(false);
    this.considered.emit(null);
    then();
  }
}

/** What it changes is a rule or a grade of everybody: no bare key does it. */
const isWeighty = (act: BookAct): boolean => act.kind !== 'feedback';

const WANTS_REASON = 'The school wants a reason: it follows a dash, as in “excused - ill”.';
const STEPS: Record<string, Step | undefined> = { Enter: 'down', ArrowDown: 'down', ArrowUp: 'up' };
