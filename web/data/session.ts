import { inject, Injectable } from '@angular/core';
import { Router } from '@angular/router';
import { Actions, createEffect, ofType } from '@ngrx/effects';
import { type Action, createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { catchError, concat, exhaustMap, from, map, type Observable, of, switchMap, tap, throwError } from 'rxjs';
import type { MaybeMe, Me, SignIn, SignInChallenge } from '@contract/accounts';
import type { PersonSettings } from '@contract/settings';
import { applySettings } from '../ui/layout/appearance';
import { setSchoolClock } from '../ui/text/dates';
import { forgetEarly } from '../worker/sheet-client';
import { FIND_PROOF } from '../worker/proof-client';
import { Api, ApiProblem, messageOf } from './api';
import { KeptDrafts } from './kept-drafts';

/** Who is signed in, in the store; the rest of the application reads it from there. */
export const SessionActions = createActionGroup({
  source: 'Session',
  events: {
    Look: emptyProps(),
    'Sign In': props<{ login: string; password: string }>(),
    /** The answer to the form, told once; `Known` follows every look too. */
    'Signed In': props<{ me: Me }>(),
    Known: props<{ me: Me | null; hasSchool: boolean }>(),
    Refused: props<{ message: string }>(),
    /** Signing in takes a moment longer, and why. */
    Slowed: props<{ message: string }>(),
    'Settings Changed': props<{ settings: PersonSettings }>(),
    'Sign Out': emptyProps(),
  },
});

interface SessionState {
  /** Undefined: not asked yet. */
  me: Me | null | undefined;
  /** False: nothing was begun on this server yet. */
  hasSchool: boolean;
  busy: boolean;
  problem: string;
  /** Why signing in takes a moment longer; '' it does not. */
  slow: string;
}

export const sessionFeature = createFeature({
  name: 'session',
  reducer: createReducer<SessionState>(
    { me: undefined, hasSchool: true, busy: false, problem: '', slow: '' },
    on(SessionActions.look, (s) => ({ ...s, busy: true })),
    on(SessionActions.signIn, (s) => ({ ...s, busy: true, problem: '', slow: '' })),
    on(SessionActions.known, (_s, { me, hasSchool }) => ({ me, hasSchool, busy: false, problem: '', slow: '' })),
    on(SessionActions.signedIn, (_s, { me }) => ({ me, hasSchool: true, busy: false, problem: '', slow: '' })),
    on(SessionActions.settingsChanged, (s, { settings }) => ({ ...s, me: s.me && { ...s.me, settings } })),
    on(SessionActions.slowed, (s, { message }) => ({ ...s, slow: message })),
    on(SessionActions.refused, (s, { message }) => ({
      ...s,
      me: s.me ?? null,
      busy: false,
      problem: message,
      slow: '',
    })),
  ),
});

/** The first page of each role. */
export const homeOf = (me: Me): string =>
  me.role === 'administrator' ? '/office' : me.role === 'student' ? '/my' : '/desk';

@Injectable()
export class SessionEffects {
  private readonly actions = inject(Actions);
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly findProof = inject(FIND_PROOF);
  private readonly drafts = inject(KeptDrafts);

  readonly look = createEffect(() =>
    this.actions.pipe(
      ofType(SessionActions.look),
      exhaustMap(() =>
        from(this.api.get<MaybeMe>('/session')).pipe(
          map(({ me, hasSchool }) => SessionActions.known({ me, hasSchool })),
          catchError((error: unknown) => of(SessionActions.refused({ message: messageOf(error) }))),
        ),
      ),
    ),
  );

  readonly signIn = createEffect(() =>
    this.actions.pipe(
      ofType(SessionActions.signIn),
      exhaustMap(({ login, password }) =>
        from(this.api.send<Me>('POST', '/session', { login, password } satisfies SignIn)).pipe(
          map((me) => SessionActions.signedIn({ me })),
          catchError((error: unknown) => this.worked({ login, password }, error)),
          catchError((error: unknown) => of(SessionActions.refused({ message: messageOf(error) }))),
        ),
      ),
    ),
  );

  /** Where work is asked for first, it is done, and the same is sent once more. */
  private worked(given: SignIn, error: unknown): Observable<Action> {
    const asked =
      error instanceof ApiProblem && error.code === 'slow-down' ? (error.now as SignInChallenge) : undefined;
    if (!asked) return throwError(() => error);
    return concat(
      of(SessionActions.slowed({ message: messageOf(error) })),
      from(this.findProof(asked, given)).pipe(
        switchMap((proof) => this.api.send<Me>('POST', '/session', { ...given, proof } satisfies SignIn)),
        map((me) => SessionActions.signedIn({ me })),
      ),
    );
  }

  readonly token = createEffect(
    () =>
      this.actions.pipe(
        ofType(SessionActions.known, SessionActions.signedIn),
        tap(({ me }) => {
          this.api.token.set(me?.token ?? '');
          this.api.person.set(me?.id ?? '');
        }),
      ),
    { dispatch: false },
  );

  readonly appearance = createEffect(
    () =>
      this.actions.pipe(
        ofType(SessionActions.known, SessionActions.signedIn),
        tap(({ me }) => {
          applySettings(me?.settings ?? null);
          setSchoolClock(me?.now ?? null);
        }),
      ),
    { dispatch: false },
  );

  readonly newAppearance = createEffect(
    () =>
      this.actions.pipe(
        ofType(SessionActions.settingsChanged),
        tap(({ settings }) => applySettings(settings)),
      ),
    { dispatch: false },
  );

  readonly signOut = createEffect(() =>
    this.actions.pipe(
      ofType(SessionActions.signOut),
      exhaustMap(() =>
        from(this.api.send('DELETE', '/session')).pipe(
          tap(() => {
            this.drafts.forget();
            forgetEarly();
            void this.router.navigateByUrl('/sign-in');
          }),
          map(() => SessionActions.known({ me: null, hasSchool: true })),
          catchError((error: unknown) => of(SessionActions.refused({ message: messageOf(error) }))),
        ),
      ),
    ),
  );
}
