import {
  assetClass,
  channelsOf,
  emptyRun,
  gaugeFacts,
  isLook,
  mainRole,
  makePlan,
  may,
  oddAttributes,
  refusalInWords,
  sameDimension,
  tableNamed,
  tableOn,
  tablesUsed,
  unitRow,
  usable,
  type AssetCopy,
  type Attributes,
  type EventOf,
  type FigureTable,
  type InstrumentCopy,
  type Lists,
  type Opened,
  type Plan,
  type PlanResult,
  type Procedure,
  type Quantity,
  type Readiness,
  type RunProof,
  type Tables,
} from '@grellin/core';
import { attributeFlaws } from './item';
import type { NewRun } from './runBody';
import type { InstrumentRow } from './view';

/**
 * How a run is opened: by the server, and by a device that is away from it, in one place. Pure: what is known comes in, the opening event's body goes out.
 */

/** Why a run cannot be opened. The codes are the API's. */
export type OpeningCode =
  | 'asset.unknown'
  | 'asset.putAway'
  | 'asset.odd'
  | 'asset.carriedUnfit'
  | 'asset.condemned'
  | 'instrument.unknown'
  | 'instrument.unfit'
  | 'instrument.leftOut'
  | 'run.itemTwice'
  | 'run.classWrong'
  | 'run.figureUnknown'
  | 'run.listUnknown'
  | 'run.planRefused'
  | 'run.refused';

/** A refusal that its reader is meant to see. */
export class Refused extends Error {
  constructor(
    readonly code: OpeningCode,
    message: string,
    readonly values: Readonly<Record<string, string>> = {},
  ) {
    super(message);
    this.name = 'Refused';
  }
}

/** What goes along with an item, with how that stands. */
export interface CarriedAlong {
  /** The attribute by which the item names it. */
  readonly attribute: string;
  readonly tag: string;
  /** Null where the register does not have it. */
  readonly stands: { readonly readiness: Readiness; readonly why: string; readonly until: string } | null;
}

/** An item as it is known where a run is opened. */
export interface KnownItem {
  readonly id: string;
  readonly tag: string;
  readonly class: string;
  readonly attributes: Attributes;
  readonly archived: boolean;
  readonly carries: readonly CarriedAlong[];
}

/** A gauge as it is known there. */
export type KnownGauge = Pick<InstrumentRow, 'id' | 'tag' | 'fittedTo' | 'low' | 'high' | 'resolution' | 'accuracy' | 'correlation' | 'calibrationDue' | 'calibratedOn' | 'simulated'> & {
  readonly archived: boolean;
}; // prettier-ignore

/** All that is known where a run is opened. */
export interface Known {
  readonly document: Procedure;
  readonly digest: string;
  readonly items: readonly KnownItem[];
  readonly gauges: readonly KnownGauge[];
  /** ISO date at the station. */
  readonly day: string;
  /** ISO instant at which the run's clock stands at zero. */
  readonly startedAt: string;
  readonly offset: string;
}

/**
 * Refuses figures that nobody would expect: they are asked about once more.
 * @throws Refused `asset.odd`
 */
export function refuseOddFigures(kind: string, attributes: Attributes, sure: readonly string[]): void {
  const odd = oddAttributes(kind, attributes).filter(({ id }) => !sure.includes(id));
  if (odd.length > 0) throw new Refused('asset.odd', `${odd.map((o) => o.words).join('; ')}. Is that so?`, Object.fromEntries(odd.map((o) => [o.id, o.words])));
}

/** The attributes of an item with the day's figures in their place. Only what its class asks for anew may be given. */
function withFigures(found: KnownItem, given: Readonly<Record<string, Quantity>>, sure: readonly string[]): KnownItem {
  const rows = assetClass(found.class)?.attributes ?? [];
  for (const [name, value] of Object.entries(given)) {
    const row = rows.find((r) => r.id === name);
    const fits = row?.asked === true && row.type.kind === 'quantity' && unitRow(value.unit)?.dimension === row.type.dimension;
    if (!fits) throw new Refused('run.figureUnknown', `${found.tag} is not asked for a figure ${name} of this kind.`, { figure: name });
  }
  refuseOddFigures(found.class, given, sure);
  return { ...found, attributes: { ...found.attributes, ...given } };
}

/**
 * The items of a run by role, with the day's figures.
 * @throws Refused when one is not there, named twice, put away, or of another class
 */
export function itemsOf(document: Procedure, given: NewRun, known: readonly KnownItem[]): Readonly<Record<string, KnownItem>> {
  const ids = Object.values(given.assets);
  if (new Set(ids).size < ids.length) throw new Refused('run.itemTwice', 'One item is named twice: each has a place of its own.');
  const byRole = Object.fromEntries(
    Object.entries(given.assets).map(([role, id]) => {
      const found = known.find((r) => r.id === id);
      if (!found) throw new Refused('asset.unknown', 'There is no such asset.', { role });
      if (found.archived) throw new Refused('asset.putAway', `${found.tag} is put away: take it back into use first.`, { role });
      if (!document.roles[role]?.classes.includes(found.class)) throw new Refused('run.classWrong', `${found.tag} cannot be the ${role} of ${document.title}.`, { role }); // prettier-ignore
      return [role, withFigures(found, given.figures?.[role] ?? {}, given.sure ?? [])];
    }),
  );
  if (!byRole[mainRole(document)]) throw new Refused('asset.unknown', 'The run has no asset.', { role: mainRole(document) });
  return byRole;
}

/**
 * The tables that a run goes by: those that its items name, in the edition that holds on the day. What is not there is left out; the plan is refused then.
 * @param kept every edition that is not withdrawn, in the order of their publishing
 */
export function tablesIn(
  kept: readonly FigureTable[],
  procedure: Procedure,
  ruleSetId: string,
  items: Readonly<Record<string, Attributes>>,
  day: string,
): Tables {
  const ruleSet = procedure.ruleSets.find((r) => r.id === ruleSetId);
  const found: Record<string, FigureTable> = {};
  for (const name of ruleSet ? tablesUsed(procedure, ruleSet) : []) {
    const id = tableNamed(procedure, name, items);
    const holds = tableOn(kept.filter((t) => t.id === id), day); // prettier-ignore
    if (holds) found[name] = holds;
  }
  return found;
}

/** What is told of the day, thing by thing: of lists that the procedure has, each figure one of its part's and of its kind. */
function listsFor(document: Procedure, given: Lists, sure: readonly string[]): Lists {
  for (const [list, things] of Object.entries(given)) {
    const row = document.lists?.[list];
    if (!row) throw new Refused('run.listUnknown', `${document.title} has no list ${list}.`, { list });
    for (const [k, thing] of things.entries()) {
      const [flaw] = attributeFlaws(row.part, thing);
      const which = `${row.one} ${String(k + 1)}`;
      if (flaw !== undefined) throw new Refused('run.figureUnknown', `${which} is not asked for a figure ${flaw} of this kind.`, { list, figure: flaw });
      refuseOddFigures(row.part, thing, sure);
    }
  }
  return given;
}

/** What goes along with an item, where its procedure asks whether that is in date: its own dates answer, and nobody's word does. */
function carriedWith(document: Procedure, role: string, owner: KnownItem): Pick<AssetCopy, 'carries'> {
  const told = JSON.stringify(document.stages);
  const carries = owner.carries
    .filter((c) => told.includes(`"unless":"${role}.${c.attribute}"`))
    .map(({ tag, stands }) => {
      if (!stands) throw new Refused('asset.carriedUnfit', `${tag}, which ${owner.tag} carries, is not in the register.`, { tag });
      if (!usable(stands.readiness)) throw new Refused('asset.carriedUnfit', `${tag}, which ${owner.tag} carries, may not be used: ${stands.why}.`, { tag });
      return { id: tag, until: stands.until };
    });
  return carries.length > 0 ? { carries } : {};
}

function gaugeFor(channel: string, document: Procedure, items: Readonly<Record<string, KnownItem>>, found: KnownGauge | undefined): KnownGauge {
  const row = document.channels[channel];
  if (!row) throw new Refused('run.refused', `There is no channel ${channel}.`, { channel });
  if (!found) throw new Refused('instrument.unknown', 'There is no such instrument.', { channel });
  if (!sameDimension(found.low.unit, row.unit)) throw new Refused('instrument.unfit', `${found.tag} does not measure what ${row.title} needs.`, { channel });
  if (found.archived) throw new Refused('instrument.unfit', `${found.tag} is put away.`, { channel });
  if (found.fittedTo !== null && found.fittedTo !== items[row.role]?.id)
    throw new Refused('instrument.unfit', `${found.tag} is fitted to another item.`, { channel });
  return found;
}

/** A gauge that the item itself has is read: who leaves it out would have only said what it shows. */
function refuseLeftOut(
  plan: Plan,
  items: Readonly<Record<string, KnownItem>>,
  known: readonly KnownGauge[],
  chosen: Readonly<Record<string, KnownGauge>>,
): void {
  const taken = new Set(Object.values(chosen).map((i) => i.id));
  const unread = [...new Set(plan.stages.flatMap(channelsOf))].filter((c) => !chosen[c]);
  for (const channel of unread) {
    const row = plan.procedure.channels[channel];
    const owner = items[row?.role ?? ''];
    const left = known.find((i) => owner !== undefined && i.fittedTo === owner.id && !i.archived && !taken.has(i.id) && sameDimension(i.low.unit, row?.unit ?? '')); // prettier-ignore
    if (left)
      throw new Refused('instrument.leftOut', `${left.tag} is fitted to the item: ${row?.title ?? channel} is read on it.`, { channel, instrument: left.tag });
  }
}

/** What a run keeps of its gauge. */
export function gaugeCopy(i: Pick<KnownGauge, 'tag' | 'fittedTo'> & Parameters<typeof gaugeFacts>[0]): InstrumentCopy {
  return { id: i.tag, fitted: i.fittedTo !== null, ...gaugeFacts(i) };
}

/** Why no plan can be made, in words; the code stands before its values. */
function planOrRefusal(made: PlanResult): Plan {
  if (made.ok) return made.plan;
  const { code, values } = made.refusal;
  if (code === 'plan.tableMissing')
    throw new Refused('run.planRefused', `No edition of the table “${values['table'] ?? ''}” is kept that holds today.`, values);
  throw new Refused('run.planRefused', `The run cannot be opened: ${code} ${Object.values(values).join(' ')}`, values);
}

/** A run as it is opened. */
export interface Opening {
  readonly plan: Plan;
  readonly items: Readonly<Record<string, KnownItem>>;
  readonly main: KnownItem;
  readonly gauges: Readonly<Record<string, KnownGauge>>;
  /** The opening event without its id and its place. */
  readonly body: Opened;
}

/**
 * Opens a run: its plan from copies of what is known, and the body of its first event.
 * @param known what the run can be opened with
 * @param given what was asked for
 * @param more the tables of the day, whether a rig stands for the item, the device that is away, and what was proved of the rig before
 * @throws Refused when a class, figure or gauge does not fit or is missing
 */
export function openingOf(
  known: Known,
  given: NewRun,
  more: {
    readonly tables: Tables;
    readonly rig?: boolean;
    readonly away?: NonNullable<Opened['away']>;
    readonly proof?: RunProof | undefined;
  },
): Opening {
  const { document, digest, day } = known;
  const items = itemsOf(document, given, known.items);
  const attributes = Object.fromEntries(Object.entries(items).map(([role, a]) => [role, a.attributes]));
  const lists = listsFor(document, given.lists ?? {}, given.sure ?? []);
  const { tables } = more;
  const whole = planOrRefusal(makePlan(document, digest, given.ruleSet, attributes, day, { lists, tables }));
  const gauges = Object.fromEntries(
    Object.entries(given.instruments).map(([channel, id]) => [channel, gaugeFor(channel, document, items, known.gauges.find((g) => g.id === id))]), // prettier-ignore
  );
  refuseLeftOut(whole, items, known.gauges, gauges);
  const copies = Object.fromEntries(
    Object.entries(items).map(([role, a]): [string, AssetCopy] => [role, { id: a.tag, attributes: a.attributes, ...carriedWith(document, role, a) }]),
  );
  const instruments = Object.fromEntries(Object.entries(gauges).map(([channel, g]) => [channel, gaugeCopy(g)]));
  const { proof } = more;
  const plan = proof ? planOrRefusal(makePlan(document, digest, given.ruleSet, attributes, day, { lists, tables, proof })) : whole;
  const main = items[mainRole(document)];
  if (!main) throw new Refused('asset.unknown', 'The run has no asset.', { role: mainRole(document) });
  const simulated = more.rig === true || Object.values(gauges).some((g) => g.simulated);
  const body: Opened = {
    kind: 'opened',
    startedAt: known.startedAt,
    offset: known.offset,
    procedure: digest,
    ruleSet: given.ruleSet,
    assets: copies,
    instruments,
    ...(given.lists ? { lists } : {}),
    ...(Object.keys(tables).length > 0 ? { tables } : {}),
    ...(proof ? { proof } : {}),
    clock: simulated ? 'simulated' : 'live',
    ...(given.retestOf === undefined ? {} : { retestOf: given.retestOf }),
    ...(more.away ? { away: more.away } : {}),
  };
  const event: EventOf<'opened'> = { id: 'opening', source: 'server', n: 1, at: 0, ...body };
  const refusal = may(plan, emptyRun, event);
  if (refusal) throw new Refused('run.refused', refusalInWords(refusal), { ...refusal.values, refusal: refusal.code });
  return { plan, items, main, gauges, body };
}

/** Whether a run of a procedure may be opened on what is condemned: it is looked at, and nothing else. */
export function refuseOnCondemned(document: Procedure, item: { readonly tag: string; readonly readiness: Readiness; readonly why: string }): void {
  if (item.readiness === 'condemned' && !isLook(document))
    throw new Refused('asset.condemned', `${item.tag} is ${item.why}: it is looked at, and nothing else.`, { tag: item.tag });
}
