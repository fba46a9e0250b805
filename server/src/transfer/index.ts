export { type LabelForm, labels } from './labels';
export { type ReadRow, readRows, type RowsAsked } from './read';
export { transferRoutes } from './routes';
