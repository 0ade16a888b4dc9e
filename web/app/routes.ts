import { inject } from '@angular/core';
import { Router, type CanActivateFn, type Routes } from '@angular/router';
import { Store } from '@ngrx/store';
import { filter, map, take } from 'rxjs';
import type { Me, Role } from '@contract/accounts';
import { homeOf, SessionActions, sessionFeature } from '../data/session';

interface Known {
  me: Me | null;
  hasSchool: boolean;
}

/** Asks anew who is signed in and whether there is a school, and goes where that leads; null: to the page asked for. */
function led(elsewhere: (known: Known, url: string) => string | null): CanActivateFn {
  return (_route, state) => {
    const store = inject(Store);
    const router = inject(Router);
    store.dispatch(SessionActions.look());
    return store.select(sessionFeature.selectSessionState).pipe(
      filter((s) => s.me !== undefined && !s.busy),
      take(1),
      map(({ me, hasSchool }) => {
        const to = elsewhere({ me: me ?? null, hasSchool }, state.url);
        return to === null ? true : router.parseUrl(to);
      }),
    );
  };
}

/** Lets a role in. Who is not signed in goes to sign in first and comes back; another role goes to its own first page. */
const only = (...roles: Role[]): CanActivateFn =>
  led(({ me, hasSchool }, url) => {
    if (!hasSchool) return '/begin';
    if (!me) return `/sign-in?then=${encodeURIComponent(url)}`;
    return roles.includes(me.role) ? null : homeOf(me);
  });

/** The plain address: the first page of whoever is signed in, or of a server on which nothing was begun. */
const toHome = led(({ me, hasSchool }) => (!hasSchool ? '/begin' : me ? homeOf(me) : '/sign-in'));

export const routes: Routes = [
  {
    path: 'sign-in',
    title: 'Sign in · Last Tally',
    canActivate: [led(({ hasSchool }) => (hasSchool ? null : '/begin'))],
    loadComponent: () => import('../features/sign-in/sign-in').then((m) => m.SignInPage),
  },
  {
    path: 'begin',
    title: 'A new school · Last Tally',
    canActivate: [led(({ hasSchool }) => (hasSchool ? '/' : null))],
    loadComponent: () => import('../features/beginning/beginning').then((m) => m.BeginningPage),
  },
  {
    path: 'forgotten',
    title: 'A new password · Last Tally',
    loadComponent: () => import('../features/sign-in/forgotten').then((m) => m.ForgottenPage),
  },
  {
    path: 'welcome',
    title: 'Welcome · Last Tally',
    loadComponent: () => import('../features/welcome/welcome').then((m) => m.WelcomePage),
  },
  {
    path: 'new-book',
    title: 'A new book · Last Tally',
    canActivate: [only('staff', 'administrator')],
    loadComponent: () => import('../features/book-creation/book-creation').then((m) => m.BookCreationPage),
  },
  {
    path: 'guide',
    title: 'Guide · Last Tally',
    // Anybody may read it; it is asked who it is for the head.
    canActivate: [led(() => null)],
    children: [{ path: '**', loadComponent: () => import('../features/guide/guide').then((m) => m.GuidePageView) }],
  },
  {
    path: 'settings',
    title: 'Settings · Last Tally',
    canActivate: [only('staff', 'administrator', 'student')],
    loadComponent: () => import('../features/settings/settings').then((m) => m.SettingsPage),
  },
  {
    path: 'news',
    title: 'What is new · Last Tally',
    canActivate: [only('staff', 'administrator', 'student')],
    loadComponent: () => import('../features/news/news').then((m) => m.NewsPage),
  },
  {
    path: 'where',
    title: 'Where is …? · Last Tally',
    canActivate: [only('staff', 'administrator')],
    loadComponent: () => import('../features/where/where').then((m) => m.WherePage),
  },
  {
    path: 'desk',
    title: 'Desk · Last Tally',
    canActivate: [only('staff')],
    loadComponent: () => import('../features/desk/desk').then((m) => m.DeskPage),
  },
  {
    path: 'office',
    title: 'Office · Last Tally',
    canActivate: [only('administrator')],
    loadComponent: () => import('../features/office/office').then((m) => m.OfficePage),
  },
  {
    path: 'office/rules',
    title: 'School rules · Last Tally',
    canActivate: [only('administrator')],
    loadComponent: () => import('../features/rules/policy/policy-page').then((m) => m.PolicyPage),
  },
  {
    path: 'book/:book',
    canActivate: [only('staff', 'administrator')],
    loadComponent: () => import('./book-frame').then((m) => m.BookFrame),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'ledger' },
      {
        path: 'ledger',
        title: 'Ledger · Last Tally',
        loadComponent: () => import('../features/ledger/ledger').then((m) => m.LedgerPage),
      },
      {
        path: 'assessments',
        title: 'Assessments · Last Tally',
        loadComponent: () => import('../features/assessments/assessments').then((m) => m.AssessmentsPage),
      },
      {
        path: 'assessments/:assessment/arrivals',
        title: 'What came in · Last Tally',
        loadComponent: () => import('../features/arrivals/arrivals').then((m) => m.ArrivalsPage),
      },
      {
        path: 'assessments/:assessment/rubric',
        title: 'Rubric · Last Tally',
        loadComponent: () => import('../features/rubric/rubric').then((m) => m.RubricPage),
      },
      {
        path: 'assessments/:assessment',
        title: 'One assessment · Last Tally',
        loadComponent: () => import('../features/assessment/assessment').then((m) => m.AssessmentPage),
      },
      {
        path: 'marking',
        title: 'To mark · Last Tally',
        loadComponent: () => import('../features/marking/marking-start').then((m) => m.MarkingStartPage),
      },
      {
        path: 'marking/:assessment/sheet',
        title: 'Plain sheet · Last Tally',
        loadComponent: () => import('../features/marking/sheet/plain-sheet').then((m) => m.PlainSheetPage),
      },
      {
        path: 'marking/:assessment',
        title: 'Marking room · Last Tally',
        loadComponent: () => import('../features/marking/marking').then((m) => m.MarkingPage),
      },
      {
        path: 'people',
        title: 'People · Last Tally',
        loadComponent: () => import('../features/people/people').then((m) => m.PeoplePage),
      },
      {
        path: 'exceptions',
        title: 'Exceptions · Last Tally',
        loadComponent: () => import('../features/exceptions/exceptions').then((m) => m.ExceptionsPage),
      },
      {
        path: 'rehearsal',
        title: 'Rehearsal · Last Tally',
        loadComponent: () => import('../features/student/rehearsal').then((m) => m.RehearsalPage),
      },
      {
        path: 'as/:asStudent',
        title: 'As a student sees it · Last Tally',
        loadComponent: () => import('../features/student/student').then((m) => m.StudentPage),
      },
      {
        path: 'student/:student/:assessment',
        title: 'Attempts · Last Tally',
        loadComponent: () => import('../features/attempts/attempts').then((m) => m.AttemptsPage),
      },
      {
        path: 'rules',
        title: 'Rules · Last Tally',
        loadComponent: () => import('../features/rules/rules').then((m) => m.RulesPage),
      },
      {
        path: 'intake',
        title: 'Intake · Last Tally',
        loadComponent: () => import('../features/intake/intake').then((m) => m.IntakePage),
      },
      {
        path: 'release',
        title: 'Release · Last Tally',
        loadComponent: () => import('../features/release/release').then((m) => m.ReleasePage),
      },
      {
        path: 'closing',
        title: 'Closing · Last Tally',
        loadComponent: () => import('../features/closing/closing').then((m) => m.ClosingPage),
      },
      {
        path: 'student/:student',
        title: 'One student · Last Tally',
        loadComponent: () => import('../features/student-record/student-record').then((m) => m.StudentRecordPage),
      },
      {
        path: 'journal',
        title: 'Journal · Last Tally',
        loadComponent: () => import('../features/journal/journal').then((m) => m.JournalPage),
      },
    ],
  },
  {
    path: 'my',
    title: 'What is due · Last Tally',
    canActivate: [only('student')],
    loadComponent: () => import('../features/hand-in/due').then((m) => m.DuePage),
  },
  {
    path: 'my/:book/:assessment',
    title: 'Hand in · Last Tally',
    canActivate: [only('student')],
    loadComponent: () => import('../features/hand-in/hand-in').then((m) => m.HandInPage),
  },
  {
    path: 'my/:book',
    title: 'What came back · Last Tally',
    canActivate: [only('student')],
    loadComponent: () => import('../features/student/student').then((m) => m.StudentPage),
  },
  { path: '', pathMatch: 'full', canActivate: [toHome], children: [] },
  { path: '**', title: 'Not here · Last Tally', loadComponent: () => import('./not-here').then((m) => m.NotHerePage) },
];
