import { addDays, emptyRun, fold, judge, makePlan, merged, type InstrumentCopy, type Opened, mainRole, procedureById, sameDimension } from '@grellin/core';
import { perform, setupFor, type Setup, rigFor } from '@grellin/core/practice';
import { builtIn, chain, closeRun, GENESIS, instrumentCopy, Moment, run, runAsset, runInstrument, type Transaction } from '@grellin/server';
import { eq } from 'drizzle-orm';
import { v7 } from 'uuid';
import type { AssetEntity, InstrumentEntity } from './gauges';
import { HISTORY, type PastStory } from './happenings';
import type { DemoOwed } from './items';

const DAY_MS = 86_400_000;

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
    Object.entries(setup.instruments).flatMap(([channel, wanted]) => {
      const eye = gauges.find((g) => g.tag === (channel.startsWith('stroke') ? 'RU-01' : 'BC-01'));
      const own = gauges.find((g) => g.fittedTo === owner && g.address?.endsWith(`/${setup.inputs[channel] ?? '-'}`) === true);
      const found = [own, at(setup.inputs[channel]), eye].find((g) => g && sameDimension(g.low.unit, wanted.low.unit));
      // What need not be fitted, and is not, was not read.
      if (!found && procedureById(procedure)?.channels[channel]?.optional) return [];
      if (!found) throw new Error(`the demo has nothing to read ${channel} of ${procedure} with`);
      return [[channel, found] as const];
    }),
  );
  return { setup, rig: rigFor(procedure) ?? '', channels };
}

/** What a run of the past needs besides its story. */
export interface PastContext {
  readonly tx: Transaction;
  readonly by: string;
  readonly now: Moment;
  readonly gauges: readonly InstrumentEntity[];
}

/** Carries out one run of the past on its rig and stores it as the server would have. */
export async function pastRun({ tx, by, now, gauges }: PastContext, story: PastStory, tested: AssetEntity, owes: DemoOwed, seed: number): Promise<void> {
  const published = builtIn.find((p) => p.document.id === owes.procedure);
  if (!published) throw new Error(`there is no procedure ${owes.procedure}`);
  const { document, digest } = published;
  const bench = benchFor(owes.procedure, owes.ruleSet, gauges, tested.id, story.device);
  const role = mainRole(document);
  // The figures of that day are those of the practice; what the register carries is the item's own.
  const attributes = { ...Object.values(bench.setup.assets)[0]?.attributes, ...tested.attributes };
  const { lists, tables } = bench.setup;
  const made = makePlan(document, digest, owes.ruleSet, { [role]: attributes }, undefined, bench.setup);
  if (!made.ok) throw new Error(`${tested.tag}: ${JSON.stringify(made.refusal)}`);
  // Working hours: half past eight and on, as the list goes.
  const startedAt = new Date(new Date(now.getTime() - story.daysAgo * DAY_MS).setUTCHours(8, 30 + (seed % 25), 0, 0));
  const stream = Object.entries(bench.channels);
  const instrumentCopies: Record<string, InstrumentCopy> = Object.fromEntries(
    stream.map(([channel, i]) => [
      channel,
      {
        ...instrumentCopy(i),
        ...(i.fittedTo === null
          ? { calibratedOn: addDays(now.dayOf(startedAt), -100), calibrationDue: addDays(now.dayOf(startedAt), 200) }
          : { calibrationDue: null }),
      },
    ]),
  );
  const opened: Omit<Opened, 'kind'> = {
    startedAt: startedAt.toISOString(),
    procedure: digest,
    ruleSet: owes.ruleSet,
    assets: { [role]: { id: tested.tag, attributes } },
    instruments: instrumentCopies,
    ...(lists ? { lists } : {}),
    ...(tables ? { tables } : {}),
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
  const values: typeof run.$inferInsert = {
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
  const [entity] = await tx.insert(run).values(values).returning();
  if (!entity) throw new Error(`the run of ${tested.tag} was not written`);
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
  await closeRun(tx, { entity, plan: made.plan, state, result, head, by, now: new Moment(sealedAt, now.zone) });
}

/** Days of an interval, as near as a story needs. */
const intervalDays = (interval: string): number => ({ P1D: 1, P1W: 7, P1M: 30, P3M: 91, P6M: 182, P1Y: 365, P30M: 913, P3Y: 1095, P5Y: 1826 })[interval] ?? 365;

/** The sound runs that lie behind an item: its last one led to the due date it has, earlier ones were whole intervals before. */
export function soundPast(tag: string, owes: DemoOwed, runs: number): PastStory[] {
  const days = intervalDays(owes.interval);
  const every = Math.max(1, Math.round(HISTORY.days / days / Math.max(1, runs)));
  return Array.from({ length: runs }, (_, k) => ({ tag, daysAgo: days - owes.dueInDays + k * every * days, fault: 'none' })).filter(
    (s) => s.daysAgo > 0 && s.daysAgo <= HISTORY.days,
  );
}
