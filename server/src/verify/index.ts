export { Anchors } from './anchors';
export { bundleLines } from './bundle';
export { verifyRoutes } from './routes';
export { countRuns, everyRun, proceduresOf, recordByNumber, recordsInOrder } from './source';
export { type Kept, MOST_TOLD, walk, type Walked } from './walk';
