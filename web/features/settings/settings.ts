import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Store } from '@ngrx/store';
import { RadioButton } from 'primeng/radiobutton';
import { DEFAULT_SETTINGS, LOCALES } from '@contract/wire/constants';
import type { PersonSettings } from '@contract/settings';
import { Api, messageOf } from '../../data/api';
import { SessionActions, sessionFeature } from '../../data/session';
import { Choice } from '../../ui/form/choice';
import { Breadcrumbs } from '../../ui/layout/breadcrumbs';
import { StatusBar } from '../../ui/layout/status-bar';
import { example } from '../../ui/text/dates';

const LANGUAGES = new Intl.DisplayNames('en', { type: 'language' });
const WAYS = LOCALES.map((tag) => ({ value: tag as string, text: `${LANGUAGES.of(tag)!}: ${example(tag)}` }));
const COLOURS = [
  { value: 'machine' as const, text: 'as this machine has them' },
  { value: 'light' as const, text: 'light' },
  { value: 'dark' as const, text: 'dark' },
];
const DENSITIES = [
  { value: 'close' as const, text: 'close, for many students at once' },
  { value: 'roomy' as const, text: 'roomy, with more air' },
];

const BARE_KEYS = [
  { value: true, text: 'single letters and digits go on, score and turn' },
  { value: false, text: 'none: letters and digits are for what one types in' },
];

/** What one sets for oneself. Each is kept as it is chosen, with the account. */
@Component({
  selector: 'lt-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Choice, FormsModule, RadioButton],
  template: `
    <main class="sheet">
      <h1>Settings</h1>
      <p class="quiet">They are yours, wherever you sign in. Nobody else sees them.</p>
      <section>
        <h2>Dates and decimals</h2>
        <lt-choice
          label="How dates and decimals are written"
          [value]="now().locale"
          [options]="WAYS"
          (chosen)="keep({ locale: $any($event) })"
        />
        <p class="quiet">
          Days are read in many ways: 4 Dec, next Friday, tomorrow 5pm. The month comes first only where it is written
          so. Decimals are read with a comma and with a point.
        </p>
      </section>
      <div class="part" role="radiogroup" aria-labelledby="colours">
        <h2 id="colours">Colours</h2>
        @for (c of COLOURS; track c.value) {
          <label
            ><p-radiobutton
              name="colours"
              [value]="c.value"
              [ngModel]="now().colourScheme"
              (ngModelChange)="keep({ colourScheme: $event })"
            />
            {{ c.text }}</label
          >
        }
      </div>
      <div class="part" role="radiogroup" aria-labelledby="rows">
        <h2 id="rows">Rows of tables and of the ledger</h2>
        @for (d of DENSITIES; track d.value) {
          <label
            ><p-radiobutton
              name="rows"
              [value]="d.value"
              [ngModel]="now().density"
              (ngModelChange)="keep({ density: $event })"
            />
            {{ d.text }}</label
          >
        }
      </div>
      @if (!isStudent()) {
        <div class="part" role="radiogroup" aria-labelledby="bare-keys">
          <h2 id="bare-keys">Keys in the marking room</h2>
          @for (k of BARE_KEYS; track k.text) {
            <label
              ><p-radiobutton
                name="bare-keys"
                [value]="k.value"
                [ngModel]="now().bareKeys"
                (ngModelChange)="keep({ bareKeys: $event })"
              />
              {{ k.text }}</label
            >
          }
        </div>
      } @else {
        <section>
          <h2>Your data</h2>
          <p class="quiet">
            All that is kept of you and that you may read: scores with their working, feedback, what you handed in with
            its receipts, what you asked, what you were told.
          </p>
          <a class="word" href="/api/v1/my/data" download="my data.json">your data as a file</a>
        </section>
      }
      @if (problem()) {
        <p class="problem" role="alert">{{ problem() }}</p>
      }
    </main>
  `,
  styles: `
    :host {
      display: grid;
      padding: 16px 16px 0;
      min-height: 0;
    }
    main {
      padding: 22px 28px;
      overflow: auto;
    }
    section,
    .part {
      display: grid;
      justify-items: start;
      gap: 8px;
      margin-top: 24px;
      max-width: 38em;
    }
    label {
      display: flex;
      gap: 8px;
      align-items: center;
    }
    .problem {
      margin-top: 18px;
    }
    @media (max-width: 600px) {
      :host {
        padding: 0;
      }
      main {
        padding: 16px;
      }
    }
  `,
})
export class SettingsPage {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly statusBar = inject(StatusBar);
  private readonly me = this.store.selectSignal(sessionFeature.selectMe);
  protected readonly isStudent = computed(() => this.me()?.role === 'student');
  protected readonly WAYS = WAYS;
  protected readonly COLOURS = COLOURS;
  protected readonly DENSITIES = DENSITIES;
  protected readonly BARE_KEYS = BARE_KEYS;
  protected readonly problem = signal('');
  protected readonly now = computed(() => this.me()?.settings ?? DEFAULT_SETTINGS);
  /** One is sent after the other, so that the last one chosen is the one that stays. */
  private sending: Promise<void> = Promise.resolve();

  constructor() {
    inject(Breadcrumbs).set('Settings');
  }

  /** It shows at once; where it could not be kept, the page goes back to what is. */
  protected keep(part: Partial<PersonSettings>): void {
    const was = this.now();
    const settings = { ...was, ...part };
    this.store.dispatch(SessionActions.settingsChanged({ settings }));
    this.sending = this.sending.then(async () => {
      try {
        await this.api.send('PUT', '/settings', settings);
        this.problem.set('');
        this.statusBar.announce('Kept.');
      } catch (error) {
        this.problem.set(messageOf(error));
        this.store.dispatch(SessionActions.settingsChanged({ settings: was }));
      }
    });
  }
}
