import type { Procedure } from '@grellin/core';

/** A procedure in the edition that runs are opened by. */
export interface PublishedProcedure {
  readonly digest: string;
  readonly document: Procedure;
}
