export { perform, type Practice } from './perform';
