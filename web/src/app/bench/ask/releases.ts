import type { RunResult } from '@grellin/core';

/**
 * What sealing means for the item, and on what evidence: told before the seal is pressed. It speaks of this test alone; whether the item may be used hangs on
 * all that it owes.
 */
export function releasesInWords(result: RunResult, tag: string, title: string): string {
  if (result.condemns) return $localize`Sealing condemns ${tag}:tag: for ever.`;
  if (result.blocks) return $localize`It may not be used until a retest after repair has passed.`;
  if (result.holds) return $localize`No result: ${tag}:tag: is held back until this test is passed, or an officer lifts it.`;
  if (result.verdict !== 'pass') return $localize`This run does not release the item.`;
  const measured = result.findings.filter((f) => f.observed !== null).length;
  const said = result.findings.filter((f) => f.observed === null && f.verdict === 'pass').length;
  return $localize`Sealing records that ${tag}:tag: has passed “${title}:title:” and moves the date of this check. Evidence: ${measured}:measured: measured, ${said}:said: looked at and answered.`;
}
