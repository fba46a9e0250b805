export { roundRoutes } from './routes';
