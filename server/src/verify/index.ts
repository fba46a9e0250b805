export { Anchors } from './anchors';
export { bundleLines } from './bundle';
export { verifyRoutes } from './routes';
export { everyRunWhole, inOnePicture, keptOf, proceduresOf, readAnew, recordByNumber } from './source';
export { type Kept, MOST_TOLD, walk, type Walked } from './walk';
