import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { AssetScreen } from './assetScreen';
import { Register } from './register';
import { RegisterEffects } from './registerEffects';
import { registerFeature } from './registerStore';

export const registerRoutes: Routes = [
  {
    path: '',
    providers: [provideState(registerFeature), provideEffects(RegisterEffects)],
    children: [
      { path: '', component: Register },
      { path: 'import', title: 'Import · Grellin', loadComponent: () => import('./importScreen').then((m) => m.ImportScreen) },
      { path: 'changes', title: 'What was changed · Grellin', loadComponent: () => import('./changes').then((m) => m.Changes) },
      { path: 'new', title: 'New item · Grellin', loadComponent: () => import('./newAsset').then((m) => m.NewAssetScreen) },
      { path: ':id', component: AssetScreen },
    ],
  },
];
