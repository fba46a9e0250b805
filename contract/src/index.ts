export * from './account';
export * from './edition';
export * from './figureTable';
export * from './instrument';
export * from './leak';
export * from './log';
export * from './alongBody';
export * from './opening';
export * from './runBody';
export * from './item';
export * from './picture';
export { jsonSchemaOf, type JsonSchema } from './jsonSchema';
export {
  formatData,
  formatHello,
  formatScene,
  isDeviceName,
  LONGEST_LINE,
  parseData,
  parseHello,
  parseScene,
  type DataLine,
  type Hello,
  type Scene,
} from './loggerLine';
export { date, digest, finite, id, instant, isText, isUuid, recordOf, unit, uuid, whole, words } from './primitives';
export { loadProcedure, procedureJsonSchema, procedureSchema } from './procedureFile';
export { Malformed, parse, type Flaw, type Problem } from './problem';
export { quantitySchema } from './quantity';
export { assetCopySchema, attributesSchema, eventSchema, eventSchemas, instrumentCopySchema, postedEventSchema } from './runEvent';
export * from './register';
export {
  judgeProvedRunFile,
  judgeRunFile,
  loadRun,
  PROVED_RUN_FILE_FORMAT,
  provedRunFileJsonSchema,
  readRunFile,
  RUN_FILE_FORMAT,
  runFileJsonSchema,
  runFileSchema,
  type JudgedFile,
  type LoadedRun,
  type Proof,
  type ProvedRunFile,
  type RunFile,
} from './runFile';
export type * from './view';
export { same, type Same } from './same';
export * from './station';
export * from './verify';
