export { type LabelForm, labels } from './labels';
export { type ReadRow, readRows } from './read';
export { transferRoutes } from './routes';
