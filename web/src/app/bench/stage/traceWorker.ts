import { findLifts } from '@grellin/core';
import { expose } from 'comlink';

/** The analysis of a fast trace, off the main thread: the gauge must not stand still while it runs. */
const analysis = {
  lifts: (values: Float64Array, fs: number): ReturnType<typeof findLifts> => findLifts(values, fs),
};
export type TraceAnalysis = typeof analysis;

expose(analysis);
