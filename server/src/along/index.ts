export { alongRoutes } from './routes';
