import { gradeInWords, type Grade, type MethodOf, type Next, type RunState, type Stage } from '@grellin/core';
import { outlines, type Outline } from './outlines';

export interface Place {
  readonly id: string;
  readonly text: string;
  readonly x: number;
  readonly y: number;
  /** Its number on the route. */
  readonly n: number;
  readonly grade: Grade | null;
  readonly words: string;
  readonly here: boolean;
}

export interface SurveyView {
  readonly outline: Outline | null;
  readonly places: readonly Place[];
}

/** The route over the drawing, with what each place has shown. A place that the drawing does not know lies in a row at the edge. */
export function surveyView(state: RunState, stage: Stage, method: MethodOf<'survey'>, n: Next): SurveyView {
  const outline = Object.hasOwn(outlines, method.outline) ? (outlines[method.outline] ?? null) : null;
  const attempt = state.attempts[stage.id]?.at(-1);
  const here = n.kind === 'spot' && n.stage.id === stage.id ? n.spot.id : null;
  return {
    outline,
    places: method.route.map((spot, i) => {
      const [x, y] = outline?.places[spot.id] ?? [40, 40 + i * 34];
      const grade = attempt?.spots[spot.id]?.grade ?? null;
      return { ...spot, x, y, n: i + 1, grade, words: grade === null ? 'not soaped yet' : gradeInWords(grade), here: spot.id === here };
    }),
  };
}
