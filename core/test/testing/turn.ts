/** Whether all of it is carried out; with CI unset a part is, another one with another commit. */
export const everything = process.env['CI'] === 'true' || process.env['E2E'] === 'all';
const turn = Number(process.env['E2E_TURN'] ?? 0);

/** Of what differs in its figures alone, every `parts`-th, where not everything is asked for. */
export const inTurn = <T>(list: readonly T[], parts: number): readonly T[] => (everything ? list : list.filter((_, i) => i % parts === turn % parts));
