const units: Readonly<Record<string, string>> = { Y: 'year', M: 'month', W: 'week', D: 'day' };

/** An interval in words. @example everyInWords('P6M') // 'every 6 months' */
export function everyInWords(interval: string): string {
  const parts = [...interval.matchAll(/(\d+)([YMWD])/g)];
  const [only] = parts;
  if (parts.length === 1 && only?.[1] === '1') return `every ${units[only[2] ?? ''] ?? interval}`;
  const words = parts.map((p) => `${p[1] ?? ''} ${units[p[2] ?? ''] ?? ''}${p[1] === '1' ? '' : 's'}`);
  return words.length === 0 ? `every ${interval}` : `every ${words.join(' and ')}`;
}

/** A span in words, counted from a day. @example spanInWords('P5Y') // '5 years' */
export function spanInWords(interval: string): string {
  const every = everyInWords(interval).replace(/^every /, '');
  return /^\d/.test(every) ? every : `one ${every}`;
}
