export { obligationRoutes } from './routes';
export { settle } from './settle';
export { obligationsOf } from './store';
