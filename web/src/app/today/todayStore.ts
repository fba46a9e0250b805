import type { Problem, TodayView } from '@grellin/contract';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { asking, failed, got, nothingYet, type Loaded } from '../api/loading';

export const TodayActions = createActionGroup({
  source: 'Today',
  events: { opened: emptyProps(), arrived: props<{ today: TodayView }>(), failed: props<{ problem: Problem }>() },
});

export const todayFeature = createFeature({
  name: 'today',
  reducer: createReducer<Loaded<TodayView>>(
    nothingYet,
    on(TodayActions.opened, (state): Loaded<TodayView> => asking(state)),
    on(TodayActions.arrived, (_state, { today }): Loaded<TodayView> => got(today)),
    on(TodayActions.failed, (state, { problem }): Loaded<TodayView> => failed(state, problem)),
  ),
});
