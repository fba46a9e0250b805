import { provideHttpClient, withFetch, withInterceptors } from '@angular/common/http';
import { inject, isDevMode, provideBrowserGlobalErrorListeners, provideEnvironmentInitializer, type ApplicationConfig } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideServiceWorker } from '@angular/service-worker';
import { ɵSharedStylesHost as SharedStylesHost } from '@angular/platform-browser';
import { provideStore } from '@ngrx/store';
import { PrimeNG } from 'primeng/config';
import { UseStyle } from 'primeng/usestyle';
import { AccountEffects } from './account/accountEffects';
import { accountFeature } from './account/accountStore';
import { signedOutInterceptor } from './account/signedOut';
import { WhoAmI } from './account/whoAmI';
import { routes } from './app.routes';
import { awayInterceptor } from './door/awayDoor';
import { editionInterceptor } from './door/edition';
import { AdoptedComponentStyles, AdoptedThemeStyles } from './theme/adoptedStyles';
import { grellinPreset } from './theme/preset';

export const appConfig: ApplicationConfig = {
  providers: [
    provideBrowserGlobalErrorListeners(),
    { provide: SharedStylesHost, useClass: AdoptedComponentStyles },
    { provide: UseStyle, useClass: AdoptedThemeStyles },
    // Kept once the first page has been shown: what is fetched for later takes nothing from what is looked at now. Angular's options are a class that nobody can make.
    // eslint-disable-next-line @typescript-eslint/no-unsafe-class-instance-assignment
    provideServiceWorker('worker.js', { enabled: !isDevMode(), registrationStrategy: 'registerWhenStable:20000' }),
    provideHttpClient(withFetch(), withInterceptors([awayInterceptor, editionInterceptor, signedOutInterceptor])),
    provideRouter(routes, withComponentInputBinding()),
    // The run's state is a linked history: walking all of it to freeze it would cost more than the check is worth outside development.
    provideStore(
      { [accountFeature.name]: accountFeature.reducer },
      { runtimeChecks: { strictStateImmutability: isDevMode(), strictActionImmutability: false } },
    ),
    provideEffects(AccountEffects),
    provideEnvironmentInitializer(() => inject(WhoAmI).askAhead(location.pathname)),
    provideEnvironmentInitializer(() =>
      inject(PrimeNG).setConfig({
        // Weeks begin on Monday, as ISO 8601 has them.
        translation: { firstDayOfWeek: 1 },
        theme: { preset: grellinPreset, options: { darkModeSelector: '.dark', cssLayer: { name: 'primeng', order: 'tokens, base, primeng' } } },
      }),
    ),
  ],
};
