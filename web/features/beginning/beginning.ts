import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Actions, ofType } from '@ngrx/effects';
import { Store } from '@ngrx/store';
import { take } from 'rxjs';
import { Button } from 'primeng/button';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import type { Setup } from '@contract/accounts';
import { Api, ApiProblem, messageOf } from '../../data/api';
import { SessionActions, sessionFeature } from '../../data/session';
import { DayBox } from '../../ui/form/day-box';
import { Mark } from '../../ui/layout/mark';
import { bookId } from '../../ui/text/book-id';

const text = (value = ''): FormControl<string> => new FormControl(value, { nonNullable: true });

const LOGIN = /^[a-z0-9][a-z0-9._@-]{1,119}$/;

/** What is still missing before the school can be made, in the order of the page; '' when nothing is. */
export function missingIn(v: {
  code: string;
  school: string;
  given: string;
  family: string;
  login: string;
  password: string;
  again: string;
  term: string;
  /** Dates such as 2026-09-01; '' where what was typed is no day. */
  starts: string;
  ends: string;
}): string {
  if (!v.code.trim()) return 'The code is missing.';
  if (!v.school.trim()) return 'The school has no name yet.';
  if (!v.family.trim()) return 'Your family name is missing.';
  if (!LOGIN.test(v.login.trim().toLowerCase()))
    return v.login.trim()
      ? 'A sign-in name has at least two letters or digits, and points, strokes and @ among them.'
      : 'Your sign-in name is missing.';
  if (v.password.length < 8)
    return v.password === '' ? 'The password is missing.' : `The password: ${8 - v.password.length} more.`;
  if (v.again !== v.password) return 'The two passwords are not the same yet.';
  if (!v.term.trim()) return 'The term has no name yet.';
  if (!v.starts || !v.ends) return 'The term has a first and a last day.';
  return v.ends < v.starts ? 'The term ends before it starts.' : '';
}

/** The first page of a server on which nothing was begun: makes the school, its administrator and its first term. */
@Component({
  selector: 'lt-beginning',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ReactiveFormsModule, RouterLink, Button, DayBox, InputText, Select, Mark],
  templateUrl: './beginning.html',
  styleUrls: ['../../ui/layout/door.css', './beginning.css'],
})
export class BeginningPage {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  private readonly router = inject(Router);
  protected readonly zones = [...Intl.supportedValuesOf('timeZone'), 'UTC'];
  /** There is no school yet, so no clock of one. */
  protected readonly now = new Date().toISOString();
  protected readonly form = new FormGroup({
    code: text(),
    school: text(),
    zone: text(Intl.DateTimeFormat().resolvedOptions().timeZone),
    given: text(),
    family: text(),
    login: text(),
    password: text(),
    again: text(),
    term: text(),
    starts: text(),
    ends: text(),
  });
  private readonly values = toSignal(this.form.valueChanges);
  protected readonly missing = computed(() => {
    this.values();
    return missingIn(this.form.getRawValue());
  });
  protected readonly busy = signal(false);
  protected readonly problem = signal('');
  /** There is a school now, made from here or by somebody else. */
  protected readonly exists = signal(false);
  protected readonly session = this.store.selectSignal(sessionFeature.selectSessionState);
  /** The title of the school, once it is made and its administrator is signed in. */
  protected readonly made = signal('');
  /** Made when the person first decided: what is tried again is the same school and term. */
  private readonly ids = { school: '', term: '' };

  constructor() {
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.problem.set(''));
    inject(Actions)
      .pipe(ofType(SessionActions.signedIn), take(1), takeUntilDestroyed())
      .subscribe(({ me }) => this.made.set(me.school));
  }

  protected async make(): Promise<void> {
    if (this.missing() !== '' || this.busy()) return;
    this.busy.set(true);
    this.problem.set('');
    const v = this.form.getRawValue();
    this.ids.school ||= bookId(v.school);
    this.ids.term ||= bookId(v.term);
    const login = v.login.trim().toLowerCase();
    const body: Setup = {
      code: v.code.trim(),
      school: { id: this.ids.school, title: v.school.trim(), timeZone: v.zone },
      administrator: { login, family: v.family.trim(), given: v.given.trim(), password: v.password },
      term: { id: this.ids.term, title: v.term.trim(), starts: v.starts, ends: v.ends },
    };
    try {
      await this.api.send('POST', '/setup', body);
      this.signIn(login, v.password);
    } catch (error) {
      // An answer that was lost: the school that is there may be this one, and then its administrator signs in.
      if (error instanceof ApiProblem && error.code === 'already-there') this.signIn(login, v.password);
      else this.problem.set(messageOf(error));
    } finally {
      this.busy.set(false);
    }
  }

  private signIn(login: string, password: string): void {
    this.exists.set(true);
    this.store.dispatch(SessionActions.signIn({ login, password }));
  }

  protected toOffice(): void {
    void this.router.navigateByUrl('/office');
  }
}
