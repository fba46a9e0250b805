export { certificate, fontFile } from './certificate';
export type { Issue } from './paper';
export { recordRoutes } from './routes';
export { listRecords } from './store';
export { doNotUseTag } from './tag';
