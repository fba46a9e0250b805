import { mustBeFitted, sameDimension, type Procedure } from '@grellin/core';
import { and, desc, eq, inArray } from 'drizzle-orm';
import { Coded } from '../base';
import { asset, type Queries, round, run, runInstrument } from '../db';
import { fittedTo, instrumentsById } from '../register/instrument';

type RoundEntity = typeof round.$inferSelect;

const lastWord = (tag: string): string => (tag.split(/[ .-]/).at(-1) ?? '').toLowerCase();

/** The round's gauges; in the place of one that is fitted to another item the one that this item has of the kind. */
export async function gaugesOf(db: Queries, r: RoundEntity, item: typeof asset.$inferSelect, document: Procedure): Promise<Record<string, string>> {
  const bound = await instrumentsById(db, Object.values(r.instruments));
  const own = (await fittedTo(db, item.id)).filter((i) => i.archivedAt === null);
  const found: Record<string, string> = {};
  for (const [channel, id] of Object.entries(r.instruments)) {
    const gauge = bound.get(id);
    if (gauge?.fittedTo === null || gauge?.fittedTo === undefined || gauge.fittedTo === item.id) found[channel] = id;
    else {
      const kin = own.filter((i) => sameDimension(i.low.unit, document.channels[channel]?.unit ?? '') && !Object.values(found).includes(i.id));
      // Of several the one that is called alike: `BA-07 remote` stands on the next set where `BA-03 remote` stood on the first.
      const alike = kin.length === 1 ? kin : kin.filter((i) => lastWord(i.tag) === lastWord(gauge.tag));
      const [only, other] = alike;
      if (only && !other) found[channel] = only.id;
      else if (mustBeFitted(document, channel, (c) => r.instruments[c] !== undefined))
        throw new Coded(
          'round.noGauge',
          `${item.tag} has ${kin.length > 0 ? 'several gauges, none called alike,' : 'no gauge of its own'} for ${document.channels[channel]?.title ?? channel}: it is tested by itself.`,
          { channel },
        );
    }
  }
  return found;
}

/** Newest runs of the same rules that are looked through for gauges that may still be read. */
const LOOKED_AT = 20;

/**
 * The gauges and the rig that a procedure was last carried out with here by the same rules, as far as all of them may still be read.
 * @param today the station's day: a gauge whose calibration has run out by then is not chosen for anybody
 * @throws Coded `round.noGauges` where there are none
 */
export async function gaugesBefore(
  db: Queries,
  { procedure, ruleSet }: { readonly procedure: string; readonly ruleSet: string },
  today: string,
): Promise<Pick<RoundEntity, 'instruments' | 'rig'>> {
  const before = await db
    .select({ id: run.id, rig: run.rig })
    .from(run)
    .where(and(eq(run.procedure, procedure), eq(run.ruleSet, ruleSet)))
    .orderBy(desc(run.openedOrder))
    .limit(LOOKED_AT);
  const bound = before.length === 0 ? [] : await db.select().from(runInstrument).where(inArray(runInstrument.run, before.map((r) => r.id))); // prettier-ignore
  for (const { id: one, rig } of before) {
    const read = bound.filter((x) => x.run === one).map((x) => [x.channel, x.instrument] as const);
    const there = await instrumentsById(
      db,
      read.map(([, id]) => id),
    );
    const may = read.every(([, id]) => {
      const i = there.get(id);
      return i?.archivedAt === null && (i.fittedTo !== null || (i.calibrationDue !== null && i.calibrationDue >= today));
    });
    if (may) return { instruments: Object.fromEntries(read), rig };
  }
  throw new Coded('round.noGauges', 'No gauge is known that this test was done with here and that may still be read: begin with one item, from its own page.');
}
