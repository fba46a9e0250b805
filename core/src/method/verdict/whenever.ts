import type { Finding } from './finding';

/**
 * What is found where nobody saw just when something happened: as it is judged where the shortest and the longest time that it can have taken are judged alike,
 * and undecided where they are not.
 * @param judged as the line between the readings has it
 * @param shortest s
 * @param longest s
 * @param by judges a time, s
 * @example whenever({ verdict: 'pass', reasons: [] }, 24, 24, () => ({ verdict: 'pass' })).verdict // 'pass'
 * @example whenever({ verdict: 'pass', reasons: [] }, 0, 200, (s) => ({ verdict: s > 45 ? 'fail' : 'pass' })).verdict // 'undecided'
 */
export function whenever(judged: Finding, shortest: number, longest: number, by: (seconds: number) => Finding): Finding {
  if (shortest === longest) return judged;
  const [least, most] = [by(shortest).verdict, by(longest).verdict];
  const said = { code: 'crossedBetween', values: { shortest: { value: shortest, unit: 's' }, longest: { value: longest, unit: 's' } } } as const;
  return { ...judged, verdict: least === most ? least : 'undecided', reasons: [...judged.reasons, said] };
}
