import type { Next, Plan, RunState, Stage } from '@grellin/core';
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

/** The picture of a stage. Pure: the same events and clock give the same picture. */
export function stageView(plan: Plan, state: RunState, stage: Stage, n: Next, now: number): StageView {
  const { method } = stage;
  switch (method.kind) {
    case 'decay':
    case 'halfLife':
      return { kind: 'strip' };
    case 'makeUpFlow':
    case 'eventPressure':
    case 'elapsed':
      return { kind: 'columns', view: columnsView(plan, state, stage, n, now) };
    case 'expansion':
      return { kind: 'expansion', view: expansionView(plan, state, stage, method) };
    case 'relief':
      return { kind: 'relief', view: reliefView(plan, state, stage, method, now) };
    case 'survey':
      return { kind: 'survey', view: surveyView(state, stage, method, n) };
    case 'stroke':
      return { kind: 'stroke', view: strokeView(plan, state, stage, method, n) };
    case 'check':
      return { kind: 'card' };
  }
}
