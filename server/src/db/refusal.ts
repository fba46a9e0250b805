/** What a database's refusals mean, whoever wrapped them: the driver, the query builder, the pool. */

function codesOf(error: unknown): readonly string[] {
  if (typeof error !== 'object' || error === null) return [];
  const { code, cause, message } = error as { readonly code?: unknown; readonly cause?: unknown; readonly message?: unknown };
  const own = typeof code === 'string' ? [code] : typeof message === 'string' && AWAY_MESSAGES.some((m) => message.includes(m)) ? ['08006'] : [];
  return [...own, ...codesOf(cause)];
}

/** The driver gives these no code. */
const AWAY_MESSAGES = [
  'Connection terminated',
  'timeout exceeded when trying to connect',
  'Client has encountered a connection error',
  'Cannot use a pool after calling end',
];
/** Class 08 connection exceptions, class 57 operator intervention, too many connections, and the socket's own. */
const AWAY = /^(08...|57P0[1-5]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ENOTFOUND|EAI_AGAIN)$/;
/** Serialisation failure and deadlock: nothing was changed, and the same work may succeed at once. */
const AGAIN = /^(40001|40P01)$/;
/** What a value cannot be: text that is no date or number, a date out of range, a text with U+0000. */
const NO_VALUE = /^22/;

/** The database cannot be reached, or has just gone. */
export const isAway = (error: unknown): boolean => codesOf(error).some((c) => AWAY.test(c));

/** The work lost to another's and can be done again. */
export const mayTryAgain = (error: unknown): boolean => codesOf(error).some((c) => AGAIN.test(c));

/** Another row has already what must be had once. */
export const isTaken = (error: unknown): boolean => codesOf(error).includes('23505');

/** What a row points at is not there. */
export const isMissing = (error: unknown): boolean => codesOf(error).includes('23503');

/** A value was handed in that no column of the kind can hold. */
export const isNoValue = (error: unknown): boolean => codesOf(error).some((c) => NO_VALUE.test(c));
