export { itemAnswerRoutes } from './routes';
export { assetView } from './view';
