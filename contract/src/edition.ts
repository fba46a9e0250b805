/**
 * Edition of what a page and the server say to each other. It is raised when something that an older page says, or understands, has changed its meaning; the server
 * goes on understanding the edition before, so that a test which is under way while the server is renewed is carried to its end.
 */
export const API_EDITION = 2;
/** The oldest edition that the server understands. */
export const OLDEST_API_EDITION = 1;
/** The header in which a page says its own. Programs that say none are taken at their word. */
export const EDITION_HEADER = 'x-grellin-edition';

/**
 * Whether a page of that edition can be answered.
 * @param said what stood in its header
 * @example isUnderstood('1') // true
 */
export function isUnderstood(said: string | undefined): boolean {
  if (said === undefined) return true;
  return /^\d{1,6}$/.test(said) && Number(said) >= OLDEST_API_EDITION;
}
