export { stationRoutes } from './routes';
export { readStation, Station } from './store';
