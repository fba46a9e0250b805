import { byKind, type ByKind, type Method, type Next, type Plan, type RunState, type Stage } from '@grellin/core';
import { columnsView, type ColumnsView } from './columnView';
import { expansionView, type ExpansionView } from './expansionView';
import { reliefView, type ReliefView } from './reliefView';
import { strokeView, type StrokeAxle } from './strokeView';
import { surveyView, type SurveyView } from './surveyView';

/** What a stage looks like while it is watched: by method, because that is what the person is looking at. */
export type StageView =
  | { readonly kind: 'strip' }
  | { readonly kind: 'columns'; readonly view: ColumnsView }
  | { readonly kind: 'expansion'; readonly view: ExpansionView }
  | { readonly kind: 'relief'; readonly view: ReliefView }
  | { readonly kind: 'survey'; readonly view: SurveyView }
  | { readonly kind: 'stroke'; readonly view: readonly StrokeAxle[] }
  | { readonly kind: 'card' };

interface Watched {
  readonly plan: Plan;
  readonly state: RunState;
  readonly stage: Stage;
  readonly next: Next;
  readonly now: number;
}

const strip = (): StageView => ({ kind: 'strip' });
const columns = (_: Method, w: Watched): StageView => ({ kind: 'columns', view: columnsView(w.plan, w.state, w.stage, w.next, w.now) });

/** How each method is watched. */
const pictures: ByKind<[Watched], StageView> = {
  decay: strip,
  halfLife: strip,
  makeUpFlow: columns,
  eventPressure: columns,
  elapsed: columns,
  expansion: (m, w) => ({ kind: 'expansion', view: expansionView(w.plan, w.state, w.stage, m) }),
  relief: (m, w) => ({ kind: 'relief', view: reliefView(w.plan, w.state, w.stage, m, w.now) }),
  survey: (m, w) => ({ kind: 'survey', view: surveyView(w.state, w.stage, m, w.next) }),
  stroke: (m, w) => ({ kind: 'stroke', view: strokeView(w.plan, w.state, w.stage, m, w.next) }),
  check: () => ({ kind: 'card' }),
};

/** The picture of a stage. Pure: the same events and clock give the same picture. */
export function stageView(plan: Plan, state: RunState, stage: Stage, n: Next, now: number): StageView {
  return byKind(pictures, stage.method, { plan, state, stage, next: n, now });
}
