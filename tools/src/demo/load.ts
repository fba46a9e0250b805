import { addDays, fold, emptyRun, judge, makePlan, nextDue, type Attributes, type InstrumentCopy, type Opened } from '@grellin/core';
import { perform } from '@grellin/core/practice';
import {
  asset,
  builtIn,
  chain,
  closeRun,
  createAccount,
  GENESIS,
  instrument,
  instrumentCopy,
  obligation,
  publishCatalogue,
  run,
  runAsset,
  runInstrument,
  type Transaction,
} from '@grellin/server';
import { eq } from 'drizzle-orm';
import { v7 } from 'uuid';
import { deviceKinds } from '../logger/device';
import { assets, benchTitles, eyes, instruments, others, past, people, trailers, type DemoAsset, type DemoInstrument } from './station';

type AssetEntity = typeof asset.$inferSelect;
type InstrumentEntity = typeof instrument.$inferSelect;

const DAY_MS = 86_400_000;

function assetRow(a: Omit<DemoAsset, 'owes' | 'also'>, now: Date): AssetEntity {
  return { id: v7(), tag: a.tag, serial: a.serial, class: a.class, title: a.title, place: a.place, practice: true, attributes: a.attributes, createdAt: now };
}

function instrumentRow(i: DemoInstrument, today: string): InstrumentEntity {
  const [low, high, unit] = i.range;
  return {
    id: v7(),
    tag: i.tag,
    title: i.title,
    fittedTo: null,
    low: { value: low, unit },
    high: { value: high, unit },
    resolution: { value: i.resolution, unit },
    accuracy: { value: i.accuracy, unit },
    correlation: i.correlation,
    calibrationDue: i.calibrationInDays === null ? null : addDays(today, i.calibrationInDays),
    address: i.address,
    simulated: i.address !== null,
    rig: i.rig,
  };
}

/** The simulated instruments of the benches: one device of each kind, one instrument an input. A rig that sends nothing is an instrument too. */
function benchInstruments(today: string): InstrumentEntity[] {
  return deviceKinds.flatMap(({ device, rig, sent }) => {
    const title = benchTitles[device];
    // The first brake loggers have only the two gauges.
    const name = device === 'BP' ? 'BP-03' : `${device}-01`;
    if (title === undefined) return [];
    const row = (tag: string, of: string, input: string, copy: Pick<InstrumentCopy, 'low' | 'high' | 'resolution' | 'accuracy'>): InstrumentEntity => ({
      ...copy,
      id: v7(),
      tag,
      title: of,
      fittedTo: null,
      correlation: 0.95,
      calibrationDue: addDays(today, 200),
      address: `sim/${name}/${input}`,
      simulated: true,
      rig,
    });
    const rows = Object.entries(sent).map(([channel, { input, instrument: copy }]) => row(`${name} ${channel}`, `${title}: ${channel}`, input, copy));
    const one = { value: 1, unit: '1' };
    return rows.length > 0 ? rows : [row(name, title, 'none', { low: { value: 0, unit: '1' }, high: one, resolution: one, accuracy: one })];
  });
}

/** The two dash gauges of a vehicle: class 1.6 (EN 837-1), read to half a graduation. */
function dashGauges(vehicle: AssetEntity): InstrumentEntity[] {
  return (['primary', 'secondary'] as const).map((name) => ({
    id: v7(),
    tag: `${vehicle.tag} ${name}`,
    title: `Dash gauge, ${name}, 0–150 psi`,
    fittedTo: vehicle.id,
    low: { value: 0, unit: '[psi]' },
    high: { value: 150, unit: '[psi]' },
    resolution: { value: 1, unit: '[psi]' },
    accuracy: { value: 2.4, unit: '[psi]' },
    correlation: 0.9,
    calibrationDue: null,
    address: null,
    simulated: false,
    rig: null,
  }));
}

interface Bench {
  readonly rig: string;
  readonly channels: Readonly<Record<string, { readonly input: string; readonly instrument: InstrumentEntity }>>;
}

function benchFor(procedure: string, byTag: ReadonlyMap<string, InstrumentEntity>): Bench {
  const named = (tag: string): InstrumentEntity => {
    const found = byTag.get(tag);
    if (!found) throw new Error(`the demo has no instrument ${tag}`);
    return found;
  };
  return procedure === 'suit.inflation'
    ? { rig: 'suit', channels: { suit: { input: 'p1', instrument: named('PL-01') } } }
    : { rig: 'air-brakes', channels: { primary: { input: 'p1', instrument: named('BP-01a') }, secondary: { input: 'p2', instrument: named('BP-01b') } } };
}

/** Carries out one run of the past on its rig and stores it as the server would have. */
async function pastRun(
  tx: Transaction,
  story: (typeof past)[number],
  tested: AssetEntity,
  owes: DemoAsset['owes'],
  bench: Bench,
  by: string,
  now: Date,
  seed: number,
): Promise<void> {
  const published = builtIn.find((p) => p.document.id === owes.procedure);
  if (!published) throw new Error(`there is no procedure ${owes.procedure}`);
  const { document, digest } = published;
  const role = Object.keys(document.roles)[0] ?? '';
  const attributes: Record<string, Attributes> = { [role]: tested.attributes };
  const made = makePlan(document, digest, owes.ruleSet, attributes);
  if (!made.ok) throw new Error(JSON.stringify(made.refusal));
  // Working hours: half past eight and on, as the list goes.
  const startedAt = new Date(new Date(now.getTime() - story.daysAgo * DAY_MS).setUTCHours(8, 30 + (seed % 25), 0, 0));
  const sensors = deviceKinds.find((k) => k.rig === bench.rig)?.sensors ?? {};
  const instrumentCopies: Record<string, InstrumentCopy> = Object.fromEntries(
    Object.entries(bench.channels).map(([channel, c]) => [
      channel,
      { ...instrumentCopy(c.instrument), calibrationDue: addDays(startedAt.toISOString().slice(0, 10), 200) },
    ]),
  );
  const opened: Omit<Opened, 'kind'> = {
    startedAt: startedAt.toISOString(),
    procedure: digest,
    ruleSet: owes.ruleSet,
    assets: { [role]: { id: tested.tag, attributes: tested.attributes } },
    instruments: instrumentCopies,
    clock: 'simulated',
  };
  const ids = Array.from({ length: 400 }, () => v7({ msecs: startedAt.getTime() }));
  const { events } = perform({
    plan: made.plan,
    opened,
    rig: bench.rig,
    fault: story.fault,
    sensors,
    inputs: Object.fromEntries(Object.entries(bench.channels).map(([channel, c]) => [channel, c.input])),
    seed,
    readings: 'samples',
    name: (i) => ids[i] ?? v7(),
    ...(story.no ? { answers: { [story.no.item]: { answer: 'no', reason: story.no.reason } } } : {}),
  });
  const id = v7({ msecs: startedAt.getTime() });
  const lastAt = events.reduce((m, e) => Math.max(m, e.at), 0);
  const sealedAt = new Date(startedAt.getTime() + lastAt);
  const entity: typeof run.$inferSelect = {
    id,
    procedure: document.id,
    digest,
    ruleSet: owes.ruleSet,
    asset: tested.id,
    obligation: null,
    retestOf: null,
    openedBy: by,
    startedAt,
    clock: 'simulated',
    paced: true,
    rig: null,
    lease: 1,
    leaseBy: by,
    seq: 0,
    head: GENESIS,
    closed: true,
    blocks: false,
  };
  await tx.insert(run).values(entity);
  await tx.insert(runAsset).values({ run: id, role, asset: tested.id });
  await tx
    .insert(runInstrument)
    .values(Object.entries(bench.channels).map(([channel, c]) => ({ run: id, channel, instrument: c.instrument.id, zeroMs: null })));
  let head = { run: id, seq: 0, hash: GENESIS };
  let state = emptyRun;
  for (const event of events) {
    state = fold(state, event);
    head = await chain(tx, head, event, by, 1, false, new Date(startedAt.getTime() + event.at));
  }
  const result = judge(made.plan, state);
  await tx.update(run).set({ seq: head.seq, head: head.hash, blocks: result.blocks }).where(eq(run.id, id));
  await closeRun(tx, { entity, plan: made.plan, state, result, head: head.hash, by, now: sealedAt });
}

/** Loads Skarvoy Sound Station into an empty database. */
export async function loadDemo(tx: Transaction, now: Date): Promise<void> {
  const today = now.toISOString().slice(0, 10);
  await publishCatalogue(tx, now);
  const accounts = new Map<string, string>();
  for (const p of people) accounts.set(p.name, (await createAccount(tx, p, true, now)).id);
  const tester = accounts.get('tester') ?? '';

  const rows = new Map([...assets, ...others, ...trailers].map((a) => [a.tag, assetRow(a, now)]));
  await tx.insert(asset).values([...rows.values()]);
  const gauges = [
    ...[...instruments, ...eyes].map((i) => instrumentRow(i, today)),
    ...benchInstruments(today),
    ...[...rows.values()].filter((a) => ['truck', 'bus', 'fire-apparatus'].includes(a.class)).flatMap(dashGauges),
  ];
  await tx.insert(instrument).values(gauges);
  const byTag = new Map(gauges.map((g) => [g.tag, g]));

  for (const a of [...assets, ...others]) {
    const owner = rows.get(a.tag);
    if (!owner) continue;
    for (const { dueInDays, ...owes } of [a.owes, ...(a.also ?? [])]) {
      const due = addDays(today, dueInDays);
      await tx.insert(obligation).values({ id: v7(), asset: owner.id, ...owes, anchor: previous(due, owes.interval), due, lastDone: null });
    }
  }
  for (const [i, story] of past.entries()) {
    const tested = rows.get(story.tag);
    const demo = [...assets, ...others].find((a) => a.tag === story.tag);
    if (!tested || !demo) throw new Error(`the demo has no ${story.tag}`);
    await pastRun(tx, story, tested, demo.owes, benchFor(demo.owes.procedure, byTag), tester, now, 11 + i * 7);
  }
}

/** The day one interval before a due date, from which an anchored rule leads to it. */
function previous(due: string, interval: string): string {
  const days = { P1M: 31, P1W: 7, P3M: 92, P6M: 184, P1Y: 366, P30M: 915, P5Y: 1827 }[interval] ?? 31;
  let anchor = addDays(due, -days);
  while (nextDue({ interval, counting: 'anchored', anchor }, anchor) < due) anchor = addDays(anchor, 1);
  return anchor;
}
