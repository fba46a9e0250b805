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
export const turn = (): number => Number((process.env['TEST_TURN'] ??= String(ofTheCommit())));

/** Whether everything is driven: before an issue is called resolved, and where there is time. */
export const everything = process.env['E2E'] === 'all';

/** Whether CI asks: most of it is driven then. */
export const inCi = process.env['CI'] === 'true';

/** How many turns it takes until all of it was driven once, where that takes `parts` of them on a hurried machine. */
const turnsFor = (parts: number): number => (everything ? 1 : inCi ? Math.ceil(parts / 6) : parts);

/** Of what differs in its figures alone, every `parts`-th, another one with another commit; a part up to six times as large in CI. */
export const inTurn = <T>(list: readonly T[], parts: number): readonly T[] => {
  const turns = turnsFor(parts);
  return list.filter((_, i) => i % turns === turn() % turns);
};

/** A test function that leaves out what is not in its turn: of the tests that it is called with every `parts`-th is there, as with `inTurn`. */
export function sharing<T extends (...given: never[]) => unknown>(test: T, parts: number): T {
  const turns = turnsFor(parts);
  let calls = 0;
  return ((...given: Parameters<T>) => (calls++ % turns === turn() % turns ? test(...given) : undefined)) as T;
}
