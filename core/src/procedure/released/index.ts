import type { Id, Procedure, Words } from '../language';
import edition1 from './edition1.json';

/** Every edition of the catalogue that was released before today's: a record or run file that names one is read and judged by it for ever. */
const released = edition1 as unknown as readonly Procedure[];

/**
 * An earlier edition of a procedure, as it was published.
 * @example releasedEdition('suit.inflation', '1')?.title // 'Gas-tight suit, inflation test'
 */
export function releasedEdition(id: Id, edition: Words): Procedure | undefined {
  return released.find((p) => p.id === id && p.edition === edition);
}
