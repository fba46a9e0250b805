import type { AlongBundle, TakeAlong, TakenAlong } from '@grellin/contract';
import { randomBytes } from 'node:crypto';
import { and, asc, eq, gt, gte, isNull } from 'drizzle-orm';
import { v7 } from 'uuid';
import { assetView } from '../answer/item';
import { type Clocks, Coded, Moment } from '../base';
import { account, along, alongAsset, authorisation, type Database, keptDocument } from '../db';
import { builtIn } from '../procedure';
import { instrumentRow, listInstruments } from '../register/instrument';
import { asSeen, carriesOf, hashOfSecret, type Holder } from '../run';

const HOUR_MS = 3_600_000;

export interface TakingNeeds {
  readonly db: Database;
  readonly now: () => Moment;
  readonly clocks: Clocks;
}

/** The procedures that somebody is authorised for on a day. */
async function proceduresFor(db: Database, accountId: string, today: string): Promise<AlongBundle['procedures']> {
  const held = await db
    .select()
    .from(authorisation)
    .where(and(eq(authorisation.account, accountId), isNull(authorisation.withdrawnAt), gte(authorisation.until, today)));
  return builtIn.flatMap((p) => {
    const own = held.find((h) => h.procedure === p.document.id);
    return own ? [{ ...p, authorisedUntil: own.until }] : [];
  });
}

/**
 * Gives a device what it needs to test some items while it is away, and the ticket that it hands its runs in with.
 * @throws Coded `asset.unknown`, `asset.putAway`, `authorisation.none`
 */
export async function takeAlong({ db, now: read, clocks }: TakingNeeds, given: TakeAlong, holder: Holder): Promise<TakenAlong> {
  const now = read();
  const reading = clocks.read();
  const [me] = await db.select().from(account).where(eq(account.id, holder.account));
  if (!me || me.role === 'reader') throw new Coded('role.tooLow', 'This is for the tester.');
  const ids = [...new Set(given.assets)];
  const assets = [];
  for (const id of ids) {
    const view = await assetView(db, id, now);
    if (view.archived) throw new Coded('asset.putAway', `${view.tag} is put away: take it back into use first.`);
    assets.push({ ...view, carries: await carriesOf(db, id, now.day) });
  }
  const classes = new Set(assets.map((a) => a.class));
  const procedures = (await proceduresFor(db, me.id, now.day)).filter(({ document }) =>
    Object.values(document.roles).some((r) => r.classes.some((c) => classes.has(c))),
  );
  if (procedures.length === 0)
    throw new Coded('authorisation.none', 'You are not authorised for anything that tests these items. The officer can authorise you.');
  const gauges = await listInstruments(db);
  const kept = await db.select().from(keptDocument).where(and(eq(keptDocument.kind, 'figures'), isNull(keptDocument.withdrawnAt))).orderBy(asc(keptDocument.publishedAt)); // prettier-ignore
  const taken = new Set(ids);
  const bundle: AlongBundle = {
    id: v7(),
    account: { id: me.id, name: me.name, fullName: me.fullName, role: me.role },
    takenAt: now.toISOString(),
    until: new Date(now.getTime() + given.hours * HOUR_MS).toISOString(),
    zone: now.zone,
    assets,
    // What sends its readings stays with its server; what is built into an item goes where that goes.
    instruments: gauges.map((i) => instrumentRow(i)).filter((i) => !i.streams && !i.simulated && (i.fittedTo === null || taken.has(i.fittedTo))),
    procedures,
    tables: kept.map((k) => k.document),
  };
  const secret = randomBytes(24).toString('base64url');
  await db.transaction(async (tx) => {
    // What the same device took along before is overwritten there: nothing more is begun with it.
    await tx
      .update(along)
      .set({ until: now })
      .where(and(eq(along.account, holder.account), eq(along.device, holder.device), gt(along.until, now)));
    const values = {
      id: bundle.id,
      ...holder,
      secretHash: hashOfSecret(secret),
      takenAt: now,
      until: new Date(bundle.until),
      clockSeen: asSeen(reading),
      bundle,
    };
    await tx.insert(along).values(values);
    await tx.insert(alongAsset).values(ids.map((asset) => ({ along: bundle.id, asset })));
  });
  return { bundle, secret };
}
