/** One page of a list that the server finds, sorts and cuts. */
export interface Page<Row> {
  readonly rows: readonly Row[];
  /** Where the next page begins; null after the last one. */
  readonly next: string | null;
  /** How many there are, told with the first page and up to a bound. */
  readonly count: number | null;
  readonly more: boolean;
}
