import type { Problem, RecordRow, RecordView } from '@grellin/contract';
import { createActionGroup, createFeature, createReducer, emptyProps, on, props } from '@ngrx/store';
import { asking, failed, got, nothingYet, type Loaded } from '../api/loading';

export const LogActions = createActionGroup({
  source: 'Log',
  events: { opened: emptyProps(), arrived: props<{ records: readonly RecordRow[] }>(), failed: props<{ problem: Problem }>() },
});

export const RecordActions = createActionGroup({
  source: 'Record',
  events: { opened: props<{ number: string }>(), arrived: props<{ record: RecordView }>(), failed: props<{ problem: Problem }>() },
});

export interface LogState {
  readonly records: Loaded<readonly RecordRow[]>;
  readonly record: Loaded<RecordView>;
}

const initial: LogState = { records: nothingYet, record: nothingYet };

export const logFeature = createFeature({
  name: 'log',
  reducer: createReducer(
    initial,
    on(LogActions.opened, (s): LogState => ({ ...s, records: asking(s.records) })),
    on(LogActions.arrived, (s, { records }): LogState => ({ ...s, records: got(records) })),
    on(LogActions.failed, (s, { problem }): LogState => ({ ...s, records: failed(s.records, problem) })),
    on(RecordActions.opened, (s): LogState => ({ ...s, record: { ...nothingYet, loading: true } })),
    on(RecordActions.arrived, (s, { record }): LogState => ({ ...s, record: got(record) })),
    on(RecordActions.failed, (s, { problem }): LogState => ({ ...s, record: failed(s.record, problem) })),
  ),
});
