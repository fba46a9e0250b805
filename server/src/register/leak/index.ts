export { leakRoutes } from './routes';
export { closeLeaks, leaksOf, markFound } from './store';
