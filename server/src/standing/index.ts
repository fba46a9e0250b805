export { lockAssets } from './lock';
export { inState, inStateOn, readinessOf, recomputeStanding, refreshMissing, refreshStanding, type Stale, type StandingEntity } from './store';
