import { provideHttpClient, withFetch, withInterceptors } from '@angular/common/http';
import { CSP_NONCE, inject, isDevMode, provideBrowserGlobalErrorListeners, provideEnvironmentInitializer, type ApplicationConfig } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore } from '@ngrx/store';
import { PrimeNG } from 'primeng/config';
import { AccountEffects } from './account/accountEffects';
import { accountFeature } from './account/accountStore';
import { signedOutInterceptor } from './account/signedOut';
import { routes } from './app.routes';
import { grellinPreset } from './theme/preset';

export const appConfig: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    provideHttpClient(withFetch(), withInterceptors([signedOutInterceptor])),
    provideRouter(routes, withComponentInputBinding()),
    // The run's state is a linked history: walking all of it to freeze it would cost more than the check is worth outside development.
    provideStore(
      { [accountFeature.name]: accountFeature.reducer },
      { runtimeChecks: { strictStateImmutability: isDevMode(), strictActionImmutability: false } },
    ),
    provideEffects(AccountEffects),
    provideEnvironmentInitializer(() =>
      inject(PrimeNG).setConfig({
        // Weeks begin on Monday, as ISO 8601 has them.
        translation: { firstDayOfWeek: 1 },
        theme: { preset: grellinPreset, options: { darkModeSelector: '.dark', cssLayer: { name: 'primeng', order: 'tokens, base, primeng' } } },
        csp: { nonce: inject(CSP_NONCE, { optional: true }) ?? undefined },
      }),
    ),
  ],
};
