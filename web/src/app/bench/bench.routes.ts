import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { WatchEffects } from '../watch/watchEffects';
import { watchFeature } from '../watch/watchStore';
import { ClockEffects } from './session/clockEffects';
import { RunEffects } from './session/runEffects';
import { sentBefore } from './session/sentBefore';
import { StatementEffects } from './session/statementEffects';
import { BenchScreen } from './benchScreen';
import { benchFeature } from './session/benchStore';

export const benchRoutes: Routes = [
  {
    path: '',
    component: BenchScreen,
    canDeactivate: [sentBefore],
    providers: [provideState(benchFeature), provideState(watchFeature), provideEffects(RunEffects, ClockEffects, StatementEffects, WatchEffects)],
  },
];
