export { Anchors } from './anchors';
export { bundleLines } from './bundle';
export { verifyRoutes } from './routes';
export { everyRun, inOnePicture, keptOf, proceduresOf, recordByNumber } from './source';
export { type Kept, MOST_TOLD, walk, type Walked } from './walk';
