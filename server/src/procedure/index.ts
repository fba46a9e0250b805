export { procedureRoutes } from './routes';
export { builtIn, digestOf, publishCatalogue, publishedByDigest, publishedById } from './store';
