/**
 * Whether all of it is carried out: in CI, before an issue is called resolved, and wherever Vitest is started by hand. `npm test` alone takes turns, and names the
 * turn (tools/test.mjs): a part is carried out, another one with another commit.
 */
const named = process.env['TEST_TURN'];
export const everything = named === undefined || process.env['CI'] === 'true' || process.env['E2E'] === 'all';
const turn = Number(named ?? 0);

/** Of what differs in its figures alone, every `parts`-th, where not everything is asked for. */
export const inTurn = <T>(list: readonly T[], parts: number, first = 0): readonly T[] =>
  everything ? list : list.filter((_, i) => (i + first) % parts === turn % parts);

/** A size that all of it has, and the one that a hurried run makes do with. */
export const sized = (whole: number, hurried: number): number => (everything ? whole : hurried);
