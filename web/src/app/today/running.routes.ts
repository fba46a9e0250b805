import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { Running } from './running';
import { TodayEffects } from './todayEffects';
import { todayFeature } from './todayStore';

export const runningRoutes: Routes = [{ path: '', component: Running, providers: [provideState(todayFeature), provideEffects(TodayEffects)] }];
