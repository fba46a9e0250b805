export { itemAnswerRoutes } from './routes';
