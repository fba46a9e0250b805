export { planFacts, writePlan } from './facts';
export { planRoutes } from './routes';
