export { certificate, fontFile } from './certificate';
export type { Issue } from './paper';
export { recordRoutes } from './routes';
export { logPage } from './page';
export { recordsOf } from './store';
export { doNotUseTag } from './tag';
