import type { FigureTable } from '@grellin/core';

/** A kept table of figures, with who published it. */
export interface TableRow {
  readonly digest: string;
  readonly table: FigureTable;
  readonly publishedAt: string;
  readonly by: string;
  readonly withdrawn: { readonly at: string; readonly by: string; readonly why: string } | null;
  /** It is the edition that holds today. */
  readonly inForce: boolean;
}

/** A table as it was read from a file, with what is wrong with it, line by line. */
export interface ReadTable {
  readonly lines: FigureTable['lines'];
  readonly flaws: readonly { readonly line: number; readonly message: string }[];
}
