import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { Today } from './today';
import { TodayEffects } from './todayEffects';
import { todayFeature } from './todayStore';

export const todayRoutes: Routes = [{ path: '', component: Today, providers: [provideState(todayFeature), provideEffects(TodayEffects)] }];
