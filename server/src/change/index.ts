export { changeRoutes } from './routes';
