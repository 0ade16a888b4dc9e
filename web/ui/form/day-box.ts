import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { DatePicker } from 'primeng/datepicker';
import { InputText } from 'primeng/inputtext';
import { Popover } from 'primeng/popover';
import { dayAndTime, dayAndYear, day, fullDay, inZone, shownAt, time } from '../text/dates';
import { afterPaint } from '../timing/after-paint';
import { locale } from '../text/locale';
import { readDay } from '../text/read-day';

/** Frames in which the box with the calendar has opened. */
const OPENING_FRAMES = 30;

/**
 * A moment typed as people write days ("4 Dec 17:00", "next Friday", "tomorrow 5pm"), or picked; local to the book's zone.
 * What was understood is said in full while it is typed. Empty: none.
 */
@Component({
  selector: 'lt-day-box',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePicker, FormsModule, InputText, Popover],
  template: `
    <input
      pInputText
      type="text"
      autocomplete="off"
      [attr.id]="boxId() || null"
      [value]="text()"
      [placeholder]="placeholder()"
      [attr.aria-label]="label() || null"
      [attr.aria-invalid]="wrong()"
      [disabled]="disabled()"
      (input)="typed($event)"
      (focus)="typing.set(true)"
      (blur)="tidy()"
    />
    <button
      #pick
      type="button"
      class="word"
      [disabled]="disabled()"
      [attr.aria-label]="'Pick a day: ' + label()"
      (click)="picker.toggle($event)"
    >
      pick
    </button>
    <output [class.shown]="typing() && inFull() !== ''">{{ typing() ? inFull() : '' }}</output>
    <p-popover #picker (onShow)="picking.set(true)" (onHide)="putAway()">
      @defer (when picking()) {
        <p-datepicker
          #calendar
          [inline]="true"
          [showTime]="!dayOnly()"
          [firstDayOfWeek]="sundayFirst() ? 0 : 1"
          [ngModel]="onCalendar()"
          (ngModelChange)="picked($event)"
        />
      }
    </p-popover>
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: baseline;
      gap: 6px;
      position: relative;
    }
    input {
      width: 132px;
      line-height: 1.4;
    }
    input[aria-invalid='true'] {
      border-color: var(--red);
    }
    .word {
      line-height: 1.4;
    }
    output {
      position: absolute;
      z-index: 3;
      top: calc(100% + 3px);
      left: 0;
      padding: 2px 8px;
      border: 1px solid var(--rule);
      border-radius: 4px;
      background: var(--paper);
      color: var(--ink);
      font: 13px/1.4 var(--sans);
      white-space: nowrap;
      visibility: hidden;
    }
    output.shown {
      visibility: visible;
    }
  `,
})
export class DayBox {
  /** RFC 3339, or with `dayOnly` a date such as 2026-12-04. */
  readonly value = input<string | null>(null);
  readonly zone = input('UTC');
  /** The moment near which a day without a year lies. */
  readonly near = input.required<string>();
  /** The moment from which "tomorrow" counts. */
  readonly now = input('');
  readonly boxId = input('');
  readonly label = input('');
  readonly placeholder = input('4 Dec 17:00');
  readonly disabled = input(false);
  readonly dayOnly = input(false);
  /** "Friday" is the last one. */
  readonly past = input(false);
  /** As `value`; null: none; undefined: what is typed is no day. */
  readonly said = output<string | null | undefined>();
  protected readonly text = signal('');
  protected readonly typing = signal(false);
  protected readonly picking = signal(false);
  private readonly picker = viewChild.required<Popover>('picker');
  private readonly pick = viewChild.required<ElementRef<HTMLElement>>('pick');
  private readonly calendar = viewChild<unknown, ElementRef<HTMLElement>>('calendar', { read: ElementRef });
  private told: string | null | undefined = null;
  private readonly understood = computed(() => this.read(this.text()));
  protected readonly wrong = computed(() => this.text().trim() !== '' && this.understood() === null);
  protected readonly sundayFirst = computed(() => locale() === 'en-US');
  protected readonly inFull = computed(() => {
    const at = this.understood();
    if (this.text().trim() === '') return '';
    if (at === null) return 'That is no day, such as 4 Dec, next Friday or tomorrow 5pm.';
    return this.dayOnly() ? fullDay(at, this.zone()) : `${fullDay(at, this.zone())}, ${time(at, this.zone())}`;
  });
  /** The moment as the calendar wants it: its own clock showing the zone's time. */
  protected readonly onCalendar = computed(() => {
    const at = this.understood() ?? this.near();
    const shown = new Date(shownAt(Date.parse(at), this.zone()));
    return new Date(
      shown.getUTCFullYear(),
      shown.getUTCMonth(),
      shown.getUTCDate(),
      shown.getUTCHours(),
      shown.getUTCMinutes(),
    );
  });

  constructor() {
    effect(() => {
      const value = this.value();
      untracked(() => {
        if (value === this.told) return;
        this.told = value;
        this.show(value);
      });
    });
    afterRenderEffect(() => {
      const calendar = this.calendar()?.nativeElement;
      if (this.picking() && calendar) void this.settle(calendar);
    });
  }

  /** The calendar comes after the box around it was put where there was room for that; its day gets the keys. */
  private async settle(calendar: HTMLElement): Promise<void> {
    // Its own day stands in it a frame later, and the box opens within some.
    for (let frame = 0; frame === 0 || (frame < OPENING_FRAMES && calendar.offsetHeight === 0); frame++)
      await afterPaint();
    if (!this.picking()) return;
    this.picker().align();
    // Days that were drawn anew have lost the keys; what else has them keeps them.
    if (calendar.contains(document.activeElement)) return;
    const day = calendar.querySelector<HTMLElement>('.p-datepicker-day-selected');
    // Until one day can have the keys none can, in a calendar that is no field of its own.
    day?.setAttribute('tabindex', '0');
    day?.focus({ preventScroll: true });
  }

  /** The keys go back to where they were, unless they are elsewhere by now. */
  protected putAway(): void {
    this.picking.set(false);
    const has = document.activeElement;
    if (!has || has === document.body || this.calendar()?.nativeElement.contains(has))
      this.pick().nativeElement.focus();
  }

  /** Short where that is understood as the same day again, with its year where it is not. */
  private show(value: string | null): void {
    if (value === null) return this.text.set('');
    const at = this.dayOnly() ? `${value}T12:00:00Z` : value;
    if (Number.isNaN(Date.parse(at))) return this.text.set(value);
    if (this.dayOnly()) return this.text.set(this.shortest(value, day(at, 'UTC'), dayAndYear(at, 'UTC')));
    const zone = this.zone();
    this.text.set(this.shortest(value, dayAndTime(at, zone), `${dayAndYear(at, zone)} ${time(at, zone)}`));
  }

  private shortest(value: string, brief: string, long: string): string {
    const read = this.read(brief);
    const minute = (at: string): number => Math.floor(Date.parse(at) / 60_000);
    const same = read !== null && (this.dayOnly() ? this.toldAs(read) === value : minute(read) === minute(value));
    return same ? brief : long;
  }

  private read(text: string): string | null {
    const zone = this.dayOnly() ? 'UTC' : this.zone();
    return readDay(text, { zone, near: this.near(), now: this.now() || this.near(), past: this.past() });
  }

  private toldAs(at: string): string {
    return this.dayOnly() ? at.slice(0, 10) : at;
  }

  protected typed(event: Event): void {
    this.text.set((event.target as HTMLInputElement).value);
    const at = this.understood();
    this.told = this.text().trim() === '' ? null : at === null ? undefined : this.toldAs(at);
    this.said.emit(this.told);
  }

  /** What was understood stands there once one goes on. */
  protected tidy(): void {
    this.typing.set(false);
    if (this.told) this.show(this.told);
  }

  protected picked(date: Date | null): void {
    if (!date) return;
    const [year, month, day] = [date.getFullYear(), date.getMonth() + 1, date.getDate()];
    const at = this.dayOnly()
      ? inZone(year, month, day, 12, 0, 'UTC')
      : inZone(year, month, day, date.getHours(), date.getMinutes(), this.zone());
    this.told = this.toldAs(new Date(at).toISOString());
    this.show(this.told);
    this.said.emit(this.told);
    // With a time it stays: that is set below the days.
    const calendar = this.calendar()?.nativeElement;
    if (this.dayOnly()) this.picker().hide();
    else if (calendar) void this.settle(calendar);
  }
}
