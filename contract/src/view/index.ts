/** What the API answers with, a file a noun. The server builds these; the browser only reads them. */
export type * from './along';
export type * from './asset';
export type * from './figureTable';
export type * from './instrument';
export type * from './kit';
export type * from './obligation';
export type * from './page';
export type * from './person';
export type * from './plan';
export type * from './procedure';
export type * from './record';
export type * from './round';
export type * from './run';
export type * from './today';
export type * from './transfer';
export type { Readiness } from '@grellin/core';
