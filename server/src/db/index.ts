export { connect, type Connection, type Database, lonelyClient, type Queries, type Transaction, type Transactional } from './database';
export { migrateDatabase } from './migrate';
export { kept, noteChange, touched, type Values } from './noted';
export { clientOf, preparedOnce } from './prepared';
export { isAway, isMissing, isNoValue, isTaken } from './refusal';
export { sealUnprotected } from './seal';
export * from './table';
