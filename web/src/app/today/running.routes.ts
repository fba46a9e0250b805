import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { WatchEffects } from '../watch/watchEffects';
import { watchFeature } from '../watch/watchStore';
import { Running } from './running';

export const runningRoutes: Routes = [{ path: '', component: Running, providers: [provideState(watchFeature), provideEffects(WatchEffects)] }];
