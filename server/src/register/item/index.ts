export { assetsByIds, registerPage } from './page';
export { assetRoutes } from './routes';
export { assetById, type AssetEntity, assetRow, knownItem, lifeEndsOn, refuseOdd } from './store';
