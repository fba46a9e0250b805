export { documentRoutes } from './routes';
export { publishTable, tablesFor } from './store';
