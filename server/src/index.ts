export { bareConfig, type ClockReading, type Clocks, type Config, configFrom, errorCodes, isLoopback, machineClocks, Moment, parseInstruments } from './base';
export {
  account,
  asset,
  calibration,
  connect,
  type Connection,
  type Database,
  instrument,
  kit,
  kitAsset,
  kitNeed,
  migrateDatabase,
  obligation,
  occasion,
  planBench,
  planned,
  record,
  run,
  runAsset,
  runEvent,
  runInstrument,
  standing,
  station,
  type Transaction,
} from './db';
export { builtIn, digestOf, publishCatalogue } from './procedure';
export { publishTable } from './document';
export { recomputeStanding, refreshMissing, refreshStanding, type Stale } from './standing';
export { readStation } from './station';
export { authoriseForAll, createAccount, hasDemoAccounts, requireUncommon } from './account';
export { insertInstruments, instrumentCopy, type InstrumentFacts } from './register/instrument';
export { appendEvents, chain, closeRun, firstBroken, GENESIS, Histories, sealOf } from './run';
export { calibrate } from './calibration';
export { bundleLines, everyRunWhole, inOnePicture, type Kept, keptOf, proceduresOf, readAnew, recordByNumber, walk, type Walked } from './verify';
export { build } from './app';
export { knownItem } from './register/item';
