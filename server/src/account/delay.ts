import { and, eq, lt } from 'drizzle-orm';
import { Coded } from '../base';
import { type Database, signInDelay } from '../db';

/** Wrong tries of one name from one address that cost nothing: a person mistypes. */
const FREE = 3;
const LONGEST_S = 60;
/** A pair that has been quiet for so long begins anew. */
const FORGOTTEN_MS = 15 * 60_000;

const delayS = (failures: number): number => (failures <= FREE ? 0 : Math.min(LONGEST_S, 2 ** (failures - FREE)));

/**
 * Counts a try before the password is looked at, under the lock of its row: guesses that come at the same time are counted one after the other. Who guesses
 * is slowed for that name from that address alone; nobody else, at another address, is kept out.
 * @throws Coded `signIn.tooMany` with the seconds to wait
 */
export function countTry(db: Database, name: string, address: string, now: Date): Promise<void> {
  return db.transaction(async (tx) => {
    await tx.delete(signInDelay).where(lt(signInDelay.nextAt, new Date(now.getTime() - FORGOTTEN_MS)));
    await tx.insert(signInDelay).values({ name, address, failures: 0, nextAt: now }).onConflictDoNothing();
    const of = and(eq(signInDelay.name, name), eq(signInDelay.address, address));
    const [held] = await tx.select().from(signInDelay).where(of).for('update');
    const waitMs = (held?.nextAt.getTime() ?? 0) - now.getTime();
    if (held && waitMs > 0 && held.failures > FREE) {
      const seconds = Math.ceil(waitMs / 1000);
      throw new Coded('signIn.tooMany', `Too many wrong tries from here. Wait ${String(seconds)} s.`, { seconds: String(seconds) });
    }
    const failures = (held?.failures ?? 0) + 1;
    await tx
      .update(signInDelay)
      .set({ failures, nextAt: new Date(now.getTime() + delayS(failures) * 1000) })
      .where(of);
  });
}

/** A right password: what was counted for this name from this address is forgotten. */
export async function forgetTries(db: Database, name: string, address: string): Promise<void> {
  await db.delete(signInDelay).where(and(eq(signInDelay.name, name), eq(signInDelay.address, address)));
}
