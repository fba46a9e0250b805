import type { LogQuery } from '@grellin/contract';

/** What a question to the log is made of besides the page; each part is a part of the address. */
export const asked = ['q', 'from', 'to', 'verdict', 'procedure', 'gauge', 'by', 'simulated'] as const;
export type Asked = (typeof asked)[number];
export type Question = Readonly<Partial<Record<Asked, string | null | undefined>>>;

/** A question without what was left empty. The address is typed by people too: the server says what of it is nothing. */
export function questionOf(given: Question): LogQuery {
  return Object.fromEntries(asked.flatMap((name) => (given[name] ? [[name, given[name]]] : [])));
}

/** A question as the end of an address. */
export function questionText(query: LogQuery): string {
  return new URLSearchParams(Object.entries(query).filter((e): e is [string, string] => typeof e[1] === 'string')).toString();
}
