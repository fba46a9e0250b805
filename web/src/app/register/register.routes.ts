import type { Routes } from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import { AssetScreen } from './item/assetScreen';
import { Register } from './list/register';
import { RegisterEffects } from './list/registerEffects';
import { registerFeature } from './list/registerStore';

export const registerRoutes: Routes = [
  {
    path: '',
    providers: [provideState(registerFeature), provideEffects(RegisterEffects)],
    children: [
      { path: '', component: Register },
      { path: 'import', title: 'Import · Grellin', loadComponent: () => import('./entry/importScreen').then((m) => m.ImportScreen) },
      { path: 'changes', title: 'What was changed · Grellin', loadComponent: () => import('./change/changes').then((m) => m.Changes) },
      { path: 'new', title: 'New item · Grellin', loadComponent: () => import('./entry/newAsset').then((m) => m.NewAssetScreen) },
      { path: ':id', component: AssetScreen },
    ],
  },
];
