import { Coded } from '../base';
import { work, type Work } from './work';

/** A refusal keeps its code only as plain values: an error's own fields do not get from one thread to another. */
export interface Outcome {
  readonly done?: unknown;
  readonly refused?: Pick<Coded, 'code' | 'message' | 'values'>;
}

/** A job by its name: what the pool hands in, and what it hands back. */
export default async function carryOut({ job, given }: { readonly job: keyof Work; readonly given: unknown }): Promise<Outcome> {
  try {
    return { done: await (work[job] as (given: unknown) => unknown)(given) };
  } catch (error) {
    if (!(error instanceof Coded)) throw error;
    const { code, message, values } = error;
    return { refused: { code, message, values } };
  }
}
