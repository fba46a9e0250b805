export { pictureRoutes, type PictureNeeds } from './routes';
export { pictureBytes } from './store';
