import type { Page, Problem } from '@grellin/contract';

/** What a screen shows of something it asked for: the last known state stays while it is asked again or could not be had. */
export interface Loaded<T> {
  readonly value: T | null;
  readonly loading: boolean;
  readonly problem: Problem | null;
}

export const nothingYet = { value: null, loading: false, problem: null } as const;

export const asking = <T>(before: Loaded<T>): Loaded<T> => ({ ...before, loading: true, problem: null });
export const got = <T>(value: T): Loaded<T> => ({ value, loading: false, problem: null });
export const failed = <T>(before: Loaded<T>, problem: Problem): Loaded<T> => ({ ...before, loading: false, problem });

/** A list with the page that comes after what is there. */
export const afterPage = <Row>(before: Page<Row> | null, page: Page<Row>): Page<Row> =>
  before ? { ...before, rows: [...before.rows, ...page.rows], next: page.next } : page;
