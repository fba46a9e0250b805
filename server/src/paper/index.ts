export { Papers } from './pool';
