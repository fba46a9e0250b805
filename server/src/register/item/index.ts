export { assetsByIds, registerPage } from './page';
export { assetRoutes } from './routes';
export { assetById, type AssetEntity, assetRow, lifeEndsOn } from './store';
