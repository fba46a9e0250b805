import type { Source } from './language';

/** A fact of the trade that no published text is named for. */
export const commonPractice: Source = { title: 'common practice' };

/** A published text, recalled and not looked up again; the screens say so. */
export const fromMemory = (title: string, clause?: string): Source => ({
  title: `${title} (from memory)`,
  ...(clause === undefined ? {} : { clause }),
});
