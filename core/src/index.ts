export * from './method';
export * from './physics';
export * from './procedure';
export * from './quantity';
export * from './run';
export * from './schedule';
export * from './uncertainty';
