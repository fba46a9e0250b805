export { calibrationRoutes } from './routes';
export { calibrate, recallHandedIn } from './store';
