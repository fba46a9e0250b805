import type { LogPage, LogQuery, Problem, RecordView } from '@grellin/contract';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { afterPage, asking, failed, got, nothingYet, type Loaded } from '../api/loading';

export const LogActions = createActionGroup({
  source: 'Log',
  events: {
    /** Another question: the first page of its answer. */
    asked: props<{ query: LogQuery }>(),
    'more asked': emptyProps(),
    arrived: props<{ page: LogPage }>(),
    'more arrived': props<{ page: LogPage }>(),
    failed: props<{ problem: Problem }>(),
  },
});

export const RecordActions = createActionGroup({
  source: 'Record',
  events: { opened: props<{ number: string }>(), arrived: props<{ record: RecordView }>(), failed: props<{ problem: Problem }>() },
});

export interface LogState {
  readonly query: LogQuery;
  readonly list: Loaded<LogPage>;
  readonly record: Loaded<RecordView>;
}

const initial: LogState = { query: {}, list: nothingYet, record: nothingYet };

export const logFeature = createFeature({
  name: 'log',
  reducer: createReducer(
    initial,
    on(LogActions.asked, (s, { query }): LogState => ({ ...s, query, list: asking(s.list) })),
    on(LogActions.moreAsked, (s): LogState => ({ ...s, list: asking(s.list) })),
    on(LogActions.arrived, (s, { page }): LogState => ({ ...s, list: got(page) })),
    on(LogActions.moreArrived, (s, { page }): LogState => ({ ...s, list: got(afterPage(s.list.value, page)) })),
    on(LogActions.failed, (s, { problem }): LogState => ({ ...s, list: failed(s.list, problem) })),
    on(RecordActions.opened, (s): LogState => ({ ...s, record: { ...nothingYet, loading: true } })),
    on(RecordActions.arrived, (s, { record }): LogState => ({ ...s, record: got(record) })),
    on(RecordActions.failed, (s, { problem }): LogState => ({ ...s, record: failed(s.record, problem) })),
  ),
});
