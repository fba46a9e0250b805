export { carriedBy, type Carried } from './carried';
export { liftHold, noteBeyondUse, refuseCondemned } from './heldBack';
export { lockAssets } from './lock';
export { inState, inStateOn, readinessOf, recomputeStanding, refreshMissing, refreshStanding, type Stale, type StandingEntity } from './store';
