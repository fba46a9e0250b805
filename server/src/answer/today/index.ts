export { todayRoutes } from './routes';
