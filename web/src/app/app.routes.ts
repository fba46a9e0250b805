import type { Routes } from '@angular/router';
import { signedInGuard } from './account/signedInGuard';
import { hereGuard } from './door/hereGuard';

export const routes: Routes = [
  { path: 'sign-in', title: 'Sign in · Grellin', loadComponent: () => import('./account/signIn').then((m) => m.SignIn) },
  { path: 'first', title: 'The first officer · Grellin', loadComponent: () => import('./account/firstOfficer').then((m) => m.FirstOfficerScreen) },
  { path: 'away', title: 'Away · Grellin', loadComponent: () => import('./away/openScreen').then((m) => m.OpenScreen) },
  { path: 'verify', title: 'Is this certificate genuine? · Grellin', loadComponent: () => import('./verify/verifyScreen').then((m) => m.VerifyScreen) },
  {
    path: 'bench/:id',
    title: 'Bench · Grellin',
    canActivate: [signedInGuard],
    loadChildren: () => import('./bench/bench.routes').then((m) => m.benchRoutes),
  },
  {
    path: '',
    canActivate: [signedInGuard],
    loadComponent: () => import('./shell/shell').then((m) => m.Shell),
    children: [
      { path: '', pathMatch: 'full', redirectTo: 'today' },
      { path: 'today', title: 'Today · Grellin', canActivate: [hereGuard], loadChildren: () => import('./today/today.routes').then((m) => m.todayRoutes) },
      { path: 'bench', title: 'Bench · Grellin', loadChildren: () => import('./today/running.routes').then((m) => m.runningRoutes) },
      { path: 'register', title: 'Register · Grellin', loadChildren: () => import('./register/register.routes').then((m) => m.registerRoutes) },
      { path: 'to', title: 'To an item · Grellin', loadComponent: () => import('./scan/toItem').then((m) => m.ToItem) },
      { path: 'calculator', title: 'Calculator · Grellin', loadComponent: () => import('./calculator/calculatorScreen').then((m) => m.CalculatorScreen) },
      { path: 'plan', title: 'Plan · Grellin', loadComponent: () => import('./plan/planScreen').then((m) => m.PlanScreen) },
      { path: 'kits', title: 'Kits · Grellin', loadComponent: () => import('./kit/kits').then((m) => m.Kits) },
      { path: 'people', title: 'People · Grellin', loadComponent: () => import('./person/people').then((m) => m.People) },
      { path: 'instruments', title: 'Instruments · Grellin', loadComponent: () => import('./instrument/instruments').then((m) => m.Instruments) },
      {
        path: 'instruments/new',
        title: 'New instrument · Grellin',
        loadComponent: () => import('./instrument/newInstrument').then((m) => m.NewInstrumentScreen),
      },
      { path: 'instruments/:id', title: 'Instrument · Grellin', loadComponent: () => import('./instrument/instrumentScreen').then((m) => m.InstrumentScreen) },
      { path: 'tables', title: 'Tables · Grellin', loadComponent: () => import('./table/tablesScreen').then((m) => m.TablesScreen) },
      { path: 'tables/new', title: 'New table · Grellin', loadComponent: () => import('./table/newTable').then((m) => m.NewTableScreen) },
      { path: 'rounds', title: 'Rounds · Grellin', loadComponent: () => import('./round/roundsScreen').then((m) => m.RoundsScreen) },
      { path: 'rounds/new', title: 'New round · Grellin', loadComponent: () => import('./round/newRound').then((m) => m.NewRoundScreen) },
      { path: 'rounds/:id', title: 'Round · Grellin', loadComponent: () => import('./round/roundScreen').then((m) => m.RoundScreen) },
      { path: 'along', title: 'Along · Grellin', loadComponent: () => import('./away/alongScreen').then((m) => m.AlongScreen) },
      { path: 'account', title: 'Your account · Grellin', loadComponent: () => import('./account/accountScreen').then((m) => m.AccountScreen) },
      { path: 'verification', title: 'Verification · Grellin', loadComponent: () => import('./verify/verification').then((m) => m.Verification) },
      { path: 'settings', title: 'Settings · Grellin', loadComponent: () => import('./settings/settingsScreen').then((m) => m.SettingsScreen) },
      { path: 'log', title: 'Log · Grellin', loadChildren: () => import('./log/log.routes').then((m) => m.logRoutes) },
    ],
  },
  { path: '**', redirectTo: 'today' },
];
