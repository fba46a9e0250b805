import type { TableFlaw } from '@grellin/core';

const said: Readonly<Record<TableFlaw['code'], (about: string) => string>> = {
  kindUnknown: (about) => `There is no kind of table “${about}”.`,
  dates: (about) => `Its last day is before its first: ${about}.`,
  byDimension: (about) => `${about}: a unit of another kind.`,
  byOrder: (about) => `${about}: lines go up, each further than the one before.`,
  figureMissing: (about) => `${about} is missing.`,
  figureUnknown: (about) => `Nobody asks for “${about}”.`,
  figureDimension: (about) => `${about}: a unit of another kind.`,
  figureLow: (about) => `${about}: more than nothing.`,
};

/** What is wrong with a table, as its reader is told. @example 'Line 2: Permitted loss is missing.' */
export const flawInWords = (flaw: TableFlaw): string =>
  flaw.line === 0 ? said[flaw.code](flaw.about) : `Line ${String(flaw.line)}: ${said[flaw.code](flaw.about)}`;
