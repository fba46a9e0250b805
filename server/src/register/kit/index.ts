export { kitFacts, writeKit } from './facts';
export { kitRoutes } from './routes';
export { listKits } from './store';
