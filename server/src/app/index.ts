export { build } from './build';
