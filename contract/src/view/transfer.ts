/** What becomes, or would become, of one row of a file. */
export interface RowFate {
  /** As a spreadsheet counts: the first line is the columns. */
  readonly row: number;
  readonly tag: string;
  readonly fate: 'new' | 'changed' | 'same' | 'bad';
  readonly flaws: readonly { readonly column: string; readonly message: string }[];
}

export interface ImportReport {
  readonly rows: number;
  readonly new: number;
  readonly changed: number;
  readonly same: number;
  readonly bad: number;
  readonly fates: readonly RowFate[];
  /** False for a dry run: nothing was written. */
  readonly written: boolean;
  readonly change: string | null;
}
