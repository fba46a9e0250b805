import type { AssetRow, AssetView, InstrumentRow, NewRun, Problem, RegisterPage, RegisterQuery, OpenedRun } from '@grellin/contract';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import type { PublishedView } from '../../api/api';
import { afterPage, asking, failed, got, nothingYet, type Loaded } from '../../api/loading';

export const RegisterActions = createActionGroup({
  source: 'Register',
  events: {
    /** Another question: the first page of its answer. */
    asked: props<{ query: RegisterQuery }>(),
    'more asked': emptyProps(),
    arrived: props<{ page: RegisterPage }>(),
    'more arrived': props<{ page: RegisterPage }>(),
    failed: props<{ problem: Problem }>(),
  },
});

export const AssetPageActions = createActionGroup({
  source: 'Asset page',
  events: {
    opened: props<{ id: string }>(),
    arrived: props<{ asset: AssetView; instruments: readonly InstrumentRow[]; procedures: readonly PublishedView[]; assets: readonly AssetRow[] }>(),
    failed: props<{ problem: Problem }>(),
    'start pressed': props<{ run: NewRun; round: string | null }>(),
    'run opened': props<{ run: OpenedRun }>(),
    'start refused': props<{ problem: Problem }>(),
  },
});

/** All that an asset's page shows and needs to start a run. */
export interface AssetPage {
  readonly asset: AssetView;
  readonly instruments: readonly InstrumentRow[];
  readonly procedures: readonly PublishedView[];
  readonly assets: readonly AssetRow[];
}

export interface RegisterState {
  readonly query: RegisterQuery;
  readonly list: Loaded<RegisterPage>;
  readonly page: Loaded<AssetPage>;
  readonly starting: boolean;
  readonly startProblem: Problem | null;
}

const initial: RegisterState = { query: {}, list: nothingYet, page: nothingYet, starting: false, startProblem: null };

export const registerFeature = createFeature({
  name: 'register',
  reducer: createReducer(
    initial,
    on(RegisterActions.asked, (s, { query }): RegisterState => ({ ...s, query, list: asking(s.list) })),
    on(RegisterActions.moreAsked, (s): RegisterState => ({ ...s, list: asking(s.list) })),
    on(RegisterActions.arrived, (s, { page }): RegisterState => ({ ...s, list: got(page) })),
    on(RegisterActions.moreArrived, (s, { page }): RegisterState => ({ ...s, list: got(afterPage(s.list.value, page)) })),
    on(RegisterActions.failed, (s, { problem }): RegisterState => ({ ...s, list: failed(s.list, problem) })),
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
