import type { Problem, SignedIn } from '@grellin/contract';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';

export const SignInActions = createActionGroup({
  source: 'Sign in',
  events: { submitted: props<{ name: string; password: string }>() },
});

export const AccountActions = createActionGroup({
  source: 'Account',
  events: {
    asked: emptyProps(),
    known: props<{ me: SignedIn }>(),
    signedIn: props<{ me: SignedIn }>(),
    refused: props<{ problem: Problem }>(),
    'sign out pressed': emptyProps(),
    'signed out': emptyProps(),
  },
});

export interface AccountState {
  readonly me: SignedIn | null;
  readonly waiting: boolean;
  readonly problem: Problem | null;
}

const initial: AccountState = { me: null, waiting: false, problem: null };

export const accountFeature = createFeature({
  name: 'account',
  reducer: createReducer(
    initial,
    on(SignInActions.submitted, (state): AccountState => ({ ...state, waiting: true, problem: null })),
    on(AccountActions.known, AccountActions.signedIn, (_state, { me }): AccountState => ({ me, waiting: false, problem: null })),
    on(AccountActions.refused, (state, { problem }): AccountState => ({ ...state, waiting: false, problem })),
    on(AccountActions.signedOut, (): AccountState => initial),
  ),
});
