import { addDays, fold, emptyRun, judge, lifeEnd, makePlan, merged, nextDue, type InstrumentCopy, type Opened } from '@grellin/core';
import { perform, setupFor, type Setup } from '@grellin/core/practice';
import { rigFor } from '@grellin/core/rig';
import {
  asset,
  authoriseForAll,
  builtIn,
  calibrate,
  chain,
  closeRun,
  createAccount,
  GENESIS,
  insertInstruments,
  type instrument,
  instrumentCopy,
  kit,
  kitAsset,
  kitNeed,
  obligation,
  occasion,
  planBench,
  publishCatalogue,
  refreshMissing,
  refreshStanding,
  run,
  runAsset,
  runInstrument,
  type Transaction,
} from '@grellin/server';
import { eq } from 'drizzle-orm';
import { v7 } from 'uuid';
import { deviceKinds } from '../logger/device';
import {
  assets,
  benchTitles,
  eyes,
  HISTORY,
  instruments,
  kits,
  others,
  past,
  people,
  planBenches,
  rest,
  trailers,
  usedYesterday,
  type DemoAsset,
  type DemoInstrument,
  type DemoOwed,
  type PastStory,
} from './station';

type AssetEntity = Omit<typeof asset.$inferSelect, 'search'>;
type InstrumentEntity = typeof instrument.$inferSelect & { readonly tag: string; readonly title: string };

const DAY_MS = 86_400_000;

/** Cylinders and suits have a life; everything has a year in which it was made. */
const lives: Readonly<Record<string, string>> = { cylinder: 'P30Y', 'gas-tight-suit': 'P12Y', 'dry-suit': 'P12Y' };

function assetRow(a: Omit<DemoAsset, 'owes' | 'also'>, now: Date, i: number): AssetEntity {
  const madeOn = `${String(now.getUTCFullYear() - 4 - (i % 6))}-${String(1 + (i % 12)).padStart(2, '0')}`;
  const life = lives[a.class] ?? null;
  return {
    id: v7(),
    tag: a.tag,
    serial: a.serial,
    class: a.class,
    title: a.title,
    place: a.place,
    practice: true,
    attributes: a.attributes,
    madeOn,
    life,
    lifeEnds: lifeEnd(madeOn, life),
    archivedAt: null,
    revision: 1,
    createdAt: now,
  };
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

/** The gauges that belong to an item itself, as its practice has them: read through the simulated device of its kind, and exempt from calibration dates. */
function ownGauges(owner: AssetEntity, owes: DemoOwed): InstrumentEntity[] {
  const setup = setupFor(owes.procedure, owes.ruleSet);
  return Object.entries(setup.instruments)
    .filter(([, copy]) => copy.fitted)
    .map(([channel, copy]) => ({
      id: v7(),
      tag: `${owner.tag} ${channel}`,
      title: `${owner.tag}, its own gauge: ${channel}`,
      fittedTo: owner.id,
      low: copy.low,
      high: copy.high,
      resolution: copy.resolution,
      accuracy: copy.accuracy,
      correlation: copy.correlation,
      calibrationDue: null,
      address: `sim/${setup.device}-01/${setup.inputs[channel] ?? ''}`,
      simulated: true,
      rig: rigFor(owes.procedure) ?? null,
    }));
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
  readonly setup: Setup;
  readonly rig: string;
  readonly channels: Readonly<Record<string, InstrumentEntity>>;
}

/** The bench for a procedure: the first simulated device of its kind, or the one that is named, and what is read by eye beside it. */
function benchFor(procedure: string, ruleSet: string, gauges: readonly InstrumentEntity[], owner: string, device?: string): Bench {
  const setup = setupFor(procedure, ruleSet);
  const name = device ?? (procedure === 'brakes.applied-loss' ? `${setup.device}-01` : '');
  const at = (input: string | undefined): InstrumentEntity | undefined =>
    gauges.find(
      (g) =>
        input !== undefined && (name === '' ? new RegExp(`^sim/${setup.device}-\\d\\d/${input}$`).test(g.address ?? '') : g.address === `sim/${name}/${input}`),
    );
  const channels = Object.fromEntries(
    Object.keys(setup.instruments).map((channel) => {
      const eye = gauges.find((g) => g.tag === (channel.startsWith('stroke') ? 'RU-01' : 'BC-01'));
      const own = gauges.find((g) => g.fittedTo === owner && g.address?.endsWith(`/${setup.inputs[channel] ?? '-'}`) === true);
      const found = own ?? at(setup.inputs[channel]) ?? eye;
      if (!found) throw new Error(`the demo has nothing to read ${channel} of ${procedure} with`);
      return [channel, found] as const;
    }),
  );
  return { setup, rig: rigFor(procedure) ?? '', channels };
}

/** What a run of the past needs besides its story. */
interface PastContext {
  readonly tx: Transaction;
  readonly by: string;
  readonly now: Date;
  readonly gauges: readonly InstrumentEntity[];
}

/** Carries out one run of the past on its rig and stores it as the server would have. */
async function pastRun({ tx, by, now, gauges }: PastContext, story: PastStory, tested: AssetEntity, owes: DemoOwed, seed: number): Promise<void> {
  const published = builtIn.find((p) => p.document.id === owes.procedure);
  if (!published) throw new Error(`there is no procedure ${owes.procedure}`);
  const { document, digest } = published;
  const bench = benchFor(owes.procedure, owes.ruleSet, gauges, tested.id, story.device);
  const role = Object.keys(document.roles)[0] ?? '';
  // The figures of that day are those of the practice; what the register carries is the item's own.
  const attributes = { ...Object.values(bench.setup.assets)[0]?.attributes, ...tested.attributes };
  const made = makePlan(document, digest, owes.ruleSet, { [role]: attributes });
  if (!made.ok) throw new Error(`${tested.tag}: ${JSON.stringify(made.refusal)}`);
  // Working hours: half past eight and on, as the list goes.
  const startedAt = new Date(new Date(now.getTime() - story.daysAgo * DAY_MS).setUTCHours(8, 30 + (seed % 25), 0, 0));
  const stream = Object.entries(bench.channels);
  const instrumentCopies: Record<string, InstrumentCopy> = Object.fromEntries(
    stream.map(([channel, i]) => [
      channel,
      { ...instrumentCopy(i), calibrationDue: i.fittedTo === null ? addDays(startedAt.toISOString().slice(0, 10), 200) : null },
    ]),
  );
  const opened: Omit<Opened, 'kind'> = {
    startedAt: startedAt.toISOString(),
    procedure: digest,
    ruleSet: owes.ruleSet,
    assets: { [role]: { id: tested.tag, attributes } },
    instruments: instrumentCopies,
    clock: 'simulated',
  };
  const { events: said } = perform({
    plan: made.plan,
    opened,
    rig: bench.rig,
    fault: story.fault,
    sensors: bench.setup.sensors,
    inputs: bench.setup.inputs,
    readByHand: bench.setup.readByHand,
    seed,
    ...(story.grown === undefined ? {} : { grown: story.grown }),
    readings: 'samples',
    name: () => v7({ msecs: startedAt.getTime() }),
    ...(story.no ? { answers: { [story.no.item]: { answer: 'no', reason: story.no.reason } } } : {}),
  });
  // Chunks that follow one another lie as one: a past of three years need not be in quarter seconds.
  const events = merged(said);
  const id = v7({ msecs: startedAt.getTime() });
  const lastAt = events.reduce((m, e) => Math.max(m, e.at), 0);
  const sealedAt = new Date(startedAt.getTime() + lastAt);
  const paced = Object.keys(bench.setup.inputs).length > 0;
  const stands = gauges.find((g) => g.address === `sim/${bench.setup.device}-01/none`);
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
    paced,
    rig: paced ? null : (stands?.id ?? null),
    lease: 1,
    leaseBy: by,
    seq: 0,
    head: GENESIS,
    closed: true,
    blocks: false,
  };
  await tx.insert(run).values(entity);
  await tx.insert(runAsset).values({ run: id, role, asset: tested.id });
  if (stream.length > 0) await tx.insert(runInstrument).values(stream.map(([channel, i]) => ({ run: id, channel, instrument: i.id, zeroMs: null })));
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

/** Days of an interval, as near as a story needs. */
const intervalDays = (interval: string): number => ({ P1D: 1, P1W: 7, P1M: 30, P3M: 91, P6M: 182, P1Y: 365, P30M: 913, P3Y: 1095, P5Y: 1826 })[interval] ?? 365;

/** The sound runs that lie behind an item: its last one led to the due date it has, earlier ones were whole intervals before. */
function soundPast(tag: string, owes: DemoOwed, runs: number): PastStory[] {
  const days = intervalDays(owes.interval);
  const every = Math.max(1, Math.round(HISTORY.days / days / Math.max(1, runs)));
  return Array.from({ length: runs }, (_, k) => ({ tag, daysAgo: days - owes.dueInDays + k * every * days, fault: 'none' })).filter(
    (s) => s.daysAgo > 0 && s.daysAgo <= HISTORY.days,
  );
}

/** Loads Skarvoy Sound Station into an empty database. */
export async function loadDemo(tx: Transaction, now: Date): Promise<void> {
  const today = now.toISOString().slice(0, 10);
  await publishCatalogue(tx, now);
  const accounts = new Map<string, string>();
  for (const p of people) accounts.set(p.name, (await createAccount(tx, p, true, now)).id);
  const tester = accounts.get('tester') ?? '';
  const officer = accounts.get('officer') ?? '';
  await authoriseForAll(tx, officer, addDays(today, 300), 'RT 1', officer, now);
  await authoriseForAll(tx, tester, addDays(today, 45), 'OS 7', officer, now);

  const testable = [...assets, ...others, ...rest];
  const rows = new Map([...testable, ...trailers].map((a, i) => [a.tag, assetRow(a, now, i)]));
  await tx.insert(asset).values([...rows.values()]);
  const gauges = [
    ...[...instruments, ...eyes].map((i) => instrumentRow(i, today)),
    ...benchInstruments(today),
    ...[...rows.values()].filter((a) => ['truck', 'bus', 'fire-apparatus'].includes(a.class)).flatMap(dashGauges),
    ...testable
      .filter((a) => a.class === 'breathing-set')
      .flatMap((a) => {
        const owner = rows.get(a.tag);
        return owner ? ownGauges(owner, a.owes) : [];
      }),
  ];
  await insertInstruments(tx, gauges, now);

  for (const a of testable) {
    const owner = rows.get(a.tag);
    if (!owner) continue;
    for (const { dueInDays, triggers = [], ...owes } of [a.owes, ...(a.also ?? [])]) {
      const due = addDays(today, dueInDays);
      await tx
        .insert(obligation)
        .values({ id: v7(), asset: owner.id, ...owes, triggers: [...triggers], anchor: previous(due, owes.interval), due, lastDone: null });
    }
  }
  const told = new Set(past.map((s) => s.tag));
  const everyday = testable.flatMap((a, i) => {
    // What is late or was never tested has its last run further back, or none.
    const runs = told.has(a.tag) ? 0 : i < assets.length ? HISTORY.runs : 1;
    return soundPast(a.tag, a.owes, runs);
  });
  const context: PastContext = { tx, by: tester, now, gauges };
  for (const [i, story] of [...everyday, ...past].sort((a, b) => b.daysAgo - a.daysAgo).entries()) {
    const tested = rows.get(story.tag);
    const demo = testable.find((a) => a.tag === story.tag);
    if (!tested || !demo) throw new Error(`the demo has no ${story.tag}`);
    await pastRun(context, story, tested, demo.owes, 11 + i * 7);
  }
  await afterwards(tx, rows, gauges, officer, now);
  await refreshMissing(tx);
  await refreshStanding(
    tx,
    [...rows.values()].map((r) => r.id),
  );
}

/** What happened besides the tests: a suit was mended, a set went out, an instrument was found bad, kits were put together. */
async function afterwards(
  tx: Transaction,
  rows: ReadonlyMap<string, AssetEntity>,
  gauges: readonly InstrumentEntity[],
  officer: string,
  now: Date,
): Promise<void> {
  const idOf = (tag: string): string => rows.get(tag)?.id ?? '';
  const ago = (days: number): Date => new Date(now.getTime() - days * DAY_MS);
  await tx
    .insert(occasion)
    .values([
      { id: v7(), asset: idOf('GS-05'), kind: 'repaired', at: ago(15), note: 'seat of the exhaust valve renewed', by: officer },
      ...usedYesterday.map((tag) => ({ id: v7(), asset: idOf(tag), kind: 'used' as const, at: ago(0.4), note: 'exercise in the smoke house', by: officer })),
    ]);
  await tx.insert(planBench).values(planBenches.map((b) => ({ ...b, id: v7(), archivedAt: null })));
  for (const k of kits) {
    const id = v7();
    await tx.insert(kit).values({ id, name: k.name, archivedAt: null });
    await tx.insert(kitNeed).values(k.needs.map((n) => ({ ...n, kit: id })));
    await tx.insert(kitAsset).values(k.tags.map((tag) => ({ kit: id, asset: idOf(tag) })));
  }
  const today = now.toISOString().slice(0, 10);
  const mbar = (value: number) => ({ value, unit: 'mbar' });
  const point = (nominal: number, found: number) => ({ nominal: mbar(nominal), asFound: mbar(found), asLeft: mbar(nominal) });
  const byTag = (tag: string): string => gauges.find((g) => g.tag === tag)?.id ?? '';
  const house = { by: 'Calibration room, mainland', certificate: '' };
  await calibrate(
    tx,
    byTag('PL-04'),
    { ...house, certificate: 'K-2207', on: addDays(today, -210), due: addDays(today, 155), points: [0, 10, 20, 40].map((v) => point(v, v)) },
    officer,
    ago(210),
  );
  await calibrate(
    tx,
    byTag('PL-01'),
    {
      ...house,
      certificate: 'K-2208',
      on: addDays(today, -155),
      due: addDays(today, 210),
      points: [0, 10, 20, 40].map((v) => point(v, v + (v > 0 ? 0.02 : 0))),
    },
    officer,
    ago(155),
  );
  // Its middle had slipped: what it showed at the end of a hold was too much.
  await calibrate(
    tx,
    byTag('PL-04'),
    {
      ...house,
      certificate: 'K-2301',
      on: addDays(today, -4),
      due: addDays(today, 361),
      points: [point(0, 0), point(8, 9.1), point(9.9, 9.95), point(20, 20.02), point(40, 40.03)],
    },
    officer,
    ago(4),
  );
}

/** The day one interval before a due date, from which an anchored rule leads to it. */
function previous(due: string, interval: string): string {
  const days = { P1M: 31, P1W: 7, P3M: 92, P6M: 184, P1Y: 366, P30M: 915, P3Y: 1096, P5Y: 1827 }[interval] ?? 31;
  let anchor = addDays(due, -days);
  while (nextDue({ interval, counting: 'anchored', anchor }, anchor) < due) anchor = addDays(anchor, 1);
  return anchor;
}
