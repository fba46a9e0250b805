export { calibrationRoutes } from './routes';
export { calibrate } from './store';
