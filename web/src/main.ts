import { bootstrapApplication } from '@angular/platform-browser';
import { App } from './app/app';
import { appConfig } from './app/app.config';

/** What a page is made of besides its beginning, asked for before the router has found out that it is wanted: on a slow network each question is a wait. */
const parts: readonly (readonly [RegExp, () => Promise<unknown>])[] = [
  [/^\/(today)?$/, () => Promise.all([import('./app/shell/shell'), import('./app/today/today.routes')])],
  [/^\/sign-in$/, () => import('./app/account/signIn')],
  [/^\/bench\/./, () => import('./app/bench/bench.routes')],
];
void parts.find(([path]) => path.test(location.pathname))?.[1]();

bootstrapApplication(App, appConfig).catch((error: unknown) => console.error(error));
