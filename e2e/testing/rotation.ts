import { execFileSync } from 'node:child_process';

/** A number that another commit changes. */
function ofTheCommit(): number {
  try {
    return parseInt(execFileSync('git', ['rev-parse', '--short=6', 'HEAD'], { cwd: import.meta.dirname, encoding: 'utf8' }), 16);
  } catch {
    return 0; // not a clone: the first part
  }
}

/** The turn of this run of the tests: asked once, the workers have it from whoever started them. */
export const turn = (): number => Number((process.env['E2E_TURN'] ??= String(ofTheCommit())));

/** Whether everything that CI drives is driven; with E2E=all still more is. */
export const everything = process.env['E2E'] === 'all' || process.env['CI'] === 'true';

/** Of what differs in its figures alone, every `parts`-th, another one with another commit; all of it in CI. */
export const inTurn = <T>(list: readonly T[], parts: number): readonly T[] => (everything ? list : list.filter((_, i) => i % parts === turn() % parts));
