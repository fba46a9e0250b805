import type { AssetRow, InstrumentRow, NewRun, Problem, RunView } from '@grellin/contract';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { AssetPageView, PublishedView } from '../api/api';
import { asking, failed, got, nothingYet, type Loaded } from '../api/loading';

export const RegisterActions = createActionGroup({
  source: 'Register',
  events: { opened: emptyProps(), arrived: props<{ assets: readonly AssetRow[] }>(), failed: props<{ problem: Problem }>() },
});

export const AssetPageActions = createActionGroup({
  source: 'Asset page',
  events: {
    opened: props<{ id: string }>(),
    arrived: props<{ asset: AssetPageView; instruments: readonly InstrumentRow[]; procedures: readonly PublishedView[]; assets: readonly AssetRow[] }>(),
    failed: props<{ problem: Problem }>(),
    'start pressed': props<{ run: NewRun }>(),
    'run opened': props<{ run: RunView }>(),
    'start refused': props<{ problem: Problem }>(),
  },
});

/** All that an asset's page shows and needs to start a run. */
export interface AssetPage {
  readonly asset: AssetPageView;
  readonly instruments: readonly InstrumentRow[];
  readonly procedures: readonly PublishedView[];
  readonly assets: readonly AssetRow[];
}

export interface RegisterState {
  readonly assets: Loaded<readonly AssetRow[]>;
  readonly page: Loaded<AssetPage>;
  readonly starting: boolean;
  readonly startProblem: Problem | null;
}

const initial: RegisterState = { assets: nothingYet, page: nothingYet, starting: false, startProblem: null };

export const registerFeature = createFeature({
  name: 'register',
  reducer: createReducer(
    initial,
    on(RegisterActions.opened, (s): RegisterState => ({ ...s, assets: asking(s.assets) })),
    on(RegisterActions.arrived, (s, { assets }): RegisterState => ({ ...s, assets: got(assets) })),
    on(RegisterActions.failed, (s, { problem }): RegisterState => ({ ...s, assets: failed(s.assets, problem) })),
    on(AssetPageActions.opened, (s, { id }): RegisterState => ({
      ...s,
      page: s.page.value?.asset.id === id ? asking(s.page) : { ...nothingYet, loading: true },
      starting: false,
      startProblem: null,
    })),
    on(AssetPageActions.arrived, (s, { asset, instruments, procedures, assets }): RegisterState => ({
      ...s,
      page: got({ asset, instruments, procedures, assets }),
    })),
    on(AssetPageActions.failed, (s, { problem }): RegisterState => ({ ...s, page: failed(s.page, problem) })),
    on(AssetPageActions.startPressed, (s): RegisterState => ({ ...s, starting: true, startProblem: null })),
    on(AssetPageActions.startRefused, (s, { problem }): RegisterState => ({ ...s, starting: false, startProblem: problem })),
    on(AssetPageActions.runOpened, (s): RegisterState => ({ ...s, starting: false })),
  ),
});
