import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { BenchEffects } from './benchEffects';
import { BenchScreen } from './benchScreen';
import { benchFeature } from './benchStore';

export const benchRoutes: Routes = [{ path: '', component: BenchScreen, providers: [provideState(benchFeature), provideEffects(BenchEffects)] }];
