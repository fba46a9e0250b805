import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { Log } from './log';
import { LogEffects } from './logEffects';
import { logFeature } from './logStore';
import { RecordScreen } from './recordScreen';

export const logRoutes: Routes = [
  {
    path: '',
    providers: [provideState(logFeature), provideEffects(LogEffects)],
    children: [
      { path: '', component: Log },
      { path: ':number', component: RecordScreen },
    ],
  },
];
