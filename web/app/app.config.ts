import {
  ErrorHandler,
  provideBrowserGlobalErrorListeners,
  provideZonelessChangeDetection,
  type ApplicationConfig,
} from '@angular/core';
import { UncaughtErrors } from './uncaught';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState, provideStore } from '@ngrx/store';
import { providePrimeNG } from 'primeng/config';
import { SessionEffects, sessionFeature } from '../data/session';
import { withoutNativeAutofocus } from '../ui/form/native-autofocus';
import { routes } from './routes';
import { preset } from './theme';

const nonce = document.querySelector('lt-root')?.getAttribute('ngCspNonce') ?? '';
withoutNativeAutofocus();

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideBrowserGlobalErrorListeners(),
    { provide: ErrorHandler, useClass: UncaughtErrors },
    provideRouter(routes, withComponentInputBinding()),
    provideStore(),
    provideState(sessionFeature),
    provideEffects(SessionEffects),
    providePrimeNG({
      theme: {
        preset,
        options: { darkModeSelector: '.dark', cssLayer: { name: 'primeng', order: 'reset, primeng, app' } },
      },
      csp: { nonce },
      // A part of a page with a stacking context of its own, or laid out by itself, would cut or cover what opens within it.
      overlayAppendTo: 'body',
      ripple: false,
    }),
  ],
};
