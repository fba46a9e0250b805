import { sameDimension, unitRow } from '../quantity';
import { assetClass, partKinds } from './assetClass';
import { checkAttribute, checkCondition, checkSource, checkTables, checkValue, Report, unitsOfValue, type ProcedureFlaw } from './checkTerms';
import type { Id, Limit, Procedure, RuleSet, Stage, Stands } from './language';
import { holds } from './condition';
import { drawingById } from './drawing';
import { everyCase } from './everyCase';
import { reachedNever, turnsOf, wayOf } from './setUp';
import { byKind, factsOf, itemsOf, limitedChannels, WORKING_READ, type Method } from './method';
import { channelsUsed } from './askedOf';
import { carriedOut } from './carriedOut';
import { askedFigures, channelsOf, figuresOf } from './stageFigures';
import { listsUsed, originOf, unroll } from './unroll';

function checkLimit(report: Report, p: Procedure, ruleSet: RuleSet, path: string, limit: Limit): void {
  const stage = p.stages.find((s) => s.id === limit.stage);
  report.unless(stage !== undefined, `${path}.stage`, 'stageUnknown', limit.stage);
  checkSource(report, path, limit.source);
  checkValue(report, p, `${path}.value`, limit.value);
  if (limit.when) checkCondition(report, p, `${path}.when`, limit.when);
  if (!stage) return;
  report.unless(!ruleSet.skip.includes(stage.id), `${path}.stage`, 'stageUnreached', stage.id);
  const kind = factsOf(stage.method).measures[limit.of];
  report.unless(kind !== undefined, `${path}.of`, 'measureUnfit', limit.of);
  const channels = limit.channel === undefined ? limitedChannels(stage.method) : [limit.channel];
  const dimension = kind === 'read' ? unitRow(p.channels[channels[0] ?? '']?.unit ?? '')?.dimension : kind;
  for (const unit of unitsOfValue(p, limit.value)) report.unless(unitRow(unit)?.dimension === dimension, `${path}.value`, 'figureDimension', unit);
  if (limit.channel !== undefined) report.unless(limitedChannels(stage.method).includes(limit.channel), `${path}.channel`, 'channelUnknown', limit.channel);
}

/** Every way that is named of the set-up is one of its states', and no order of the work brings it to where it must never be. */
function checkSetUp(report: Report, p: Procedure): void {
  const known = (stands: Stands, path: string): void => {
    for (const [state, way] of Object.entries(stands)) report.unless(wayOf(p, state, way) !== undefined, path, 'stateUnknown', `${state}: ${way}`);
  };
  for (const [state, row] of Object.entries(p.states ?? {})) known({ [state]: row.first }, `states.${state}.first`);
  p.never?.forEach((n, i) => known(n.stands, `never[${i}]`));
  for (const [i, stage] of p.stages.entries()) for (const t of turnsOf(stage)) [t.needs, t.makes].forEach((stands) => known(stands, `stages[${i}].${t.id}`));
  p.ruleSets.forEach((r, i) => {
    for (const { turn, why } of reachedNever(twoOfEach(p, r), twoOfEach(p, r).ruleSets[i] ?? r))
      report.unless(false, `ruleSets[${i}]`, 'neverReached', `${turn}: ${why}`);
  });
}

/** Who says that an item is tight has looked for the leak: under every rule set, and whatever the item is like, in a stage that is not left out. */
function checkClaim(report: Report, p: Procedure): void {
  if (p.language !== 2) return;
  report.unless(p.claims !== undefined, 'claims', 'claimMissing', p.id);
  if (p.claims !== 'tight') return;
  const cases = everyCase(p);
  p.ruleSets.forEach((r, i) => {
    // Who looks for where it leaks, or decides where another did not, comes only after that other.
    const looks = p.stages.filter(
      (s) => s.phase === 'test' && !s.seeks && s.decides === undefined && !r.skip.includes(s.id) && factsOf(s.method).findsLeaks?.(s.method) === true,
    );
    const blind = cases.find((assets) => !looks.some((s) => s.when === undefined || holds(s.when, assets)));
    report.unless(blind === undefined, `ruleSets[${i}]`, 'leakUnlooked', `${r.id}: ${JSON.stringify(blind)}`);
  });
}

/** Two of each thing of every list: what must not come about may come about between them. */
const twoOfEach = (p: Procedure, r: RuleSet): Procedure => {
  const lists = Object.fromEntries(listsUsed(p, r).map((list) => [list, [{}, {}]]));
  const made = unroll(p, r, lists);
  return 'code' in made ? p : { ...made.procedure, ruleSets: p.ruleSets.map((x) => (x.id === r.id ? made.ruleSet : x)) };
};

/** Lists are of known parts and stages are repeated for them; what is laid down for each thing has a name that nothing else has. */
function checkLists(report: Report, p: Procedure): void {
  for (const [id, row] of Object.entries(p.lists ?? {})) {
    const path = `lists.${id}`;
    const part = partKinds.find((k) => k.id === row.part);
    report.unless(part !== undefined, path, 'partUnknown', row.part);
    report.unless(p.roles[id] === undefined, path, 'idRepeated', id);
    report.unless(
      p.stages.some((s) => s.each?.list === id),
      path,
      'listUnused',
      id,
    );
    for (const ref of [...row.count, ...(row.covers ? [row.covers.count] : [])]) checkAttribute(report, p, `${path}.count`, ref);
    report.unless(row.count.length > 0, `${path}.count`, 'listUncounted', id);
    const named = [...(row.together ? [row.together.by, ...row.together.sums] : []), ...(row.covers ? [row.covers.by] : [])];
    for (const attribute of named)
      report.unless(part === undefined || part.attributes.some((a) => a.id === attribute), `${path}.together`, 'attributeUnknown', attribute);
  }
  const ids = new Set(p.stages.flatMap((s) => [s.id, ...s.steps.map((x) => x.id), ...Object.keys(p.channels)]));
  p.stages.forEach((s, i) => {
    report.unless(originOf(s.id) === s.id, `stages[${i}].id`, 'idReserved', s.id);
    for (const x of [...s.steps, ...itemsOf(s.method)])
      report.unless(x.drawing === undefined || drawingById(x.drawing) !== undefined, `stages[${i}].${x.id}`, 'drawingUnknown', x.drawing ?? '');
    // What is taken over from another run says nothing of the item.
    report.unless(!s.proves || s.phase === 'rig', `stages[${i}].proves`, 'provesItem', s.id);
    if (s.byNight) for (const ref of [s.byNight.latitude, s.byNight.longitude]) checkAttribute(report, p, `stages[${i}].byNight`, ref);
    if (!s.each) return;
    report.unless(p.lists?.[s.each.list] !== undefined, `stages[${i}].each`, 'listUnknown', s.each.list);
    for (const once of s.each.once ?? [])
      report.unless(
        s.steps.some((x) => x.id === once),
        `stages[${i}].each`,
        'stageUnknown',
        once,
      );
  });
  p.ruleSets.forEach((r, i) => {
    for (const [id, parameter] of Object.entries(r.parameters)) {
      const hangs = Object.keys(p.lists ?? {}).some((list) => JSON.stringify(parameter).includes(`"${list}.`));
      report.unless(!hangs || !ids.has(id), `ruleSets[${i}].parameters.${id}`, 'figureShadowed', id);
    }
  });
}

/** A check asks something, and two gauges that must agree are two. */
function checkItems(report: Report, p: Procedure, stage: Stage, path: string): void {
  if (stage.method.kind !== 'check') return;
  report.unless(stage.method.items.length > 0, `${path}.method.items`, 'checkEmpty', stage.id);
  for (const item of stage.method.items) {
    const agree = item.shown && 'agree' in item.shown ? item.shown.agree : null;
    report.unless(agree === null || (agree.length === 2 && agree[0] !== agree[1]), `${path}.${item.id}`, 'agreeNotTwo', item.id);
    report.unless(!item.feels || item.for !== undefined, `${path}.${item.id}`, 'feltUntimed', item.id);
    report.unless(item.times === undefined || item.for !== undefined, `${path}.${item.id}`, 'countUntimed', item.id);
    const { times } = item;
    report.unless(typeof times !== 'number' || (Number.isInteger(times) && times >= 2), `${path}.${item.id}`, 'countNone', item.id);
    report.unless(originOf(item.id) === item.id, `${path}.${item.id}`, 'idReserved', item.id);
    if (item.when) checkCondition(report, p, `${path}.${item.id}.when`, item.when);
    if (item.unless) checkAttribute(report, p, `${path}.${item.id}.unless`, item.unless);
    item.says?.forEach((s, i) => checkValue(report, p, `${path}.${item.id}.says[${String(i)}]`, s.value));
  }
}

/** What is felt stands in a rule set that says so and what it cannot find; one that goes by feel feels something, and reads nothing. */
function checkFeel(report: Report, p: Procedure, path: string, ruleSet: RuleSet): void {
  const stages = p.stages.map((s) => carriedOut(s, ruleSet)).filter((s) => s !== null);
  const felt = stages.flatMap((s) => itemsOf(s.method)).filter((i) => i.feels);
  if (!ruleSet.byFeel) {
    for (const i of felt) report.unless(false, path, 'feltUnsaid', i.id);
    return;
  }
  report.unless(felt.length > 0, `${path}.byFeel`, 'feelNothing', ruleSet.id);
  for (const c of channelsUsed(p, ruleSet)) report.unless(false, `${path}.byFeel`, 'feelReads', c);
}

/** Every figure that is needed is laid down, in a unit of its kind. */
function checkFigures(report: Report, p: Procedure, ruleSet: RuleSet, path: string, where: string, needed: ReturnType<typeof figuresOf>): void {
  for (const { id, like } of needed) {
    const parameter = ruleSet.parameters[id];
    report.unless(parameter !== undefined, `${path}.parameters`, 'figureUnknown', `${where}: ${id}`);
    for (const unit of parameter ? unitsOfValue(p, parameter.value) : [])
      report.unless(sameDimension(unit, like), `${path}.parameters.${id}`, 'figureDimension', unit);
  }
}

/** Readings that a rule set can leave out of a method. */
const leftOutOf = (method: Method): readonly Id[] => byKind({ expansion: (m) => (m.working ? [WORKING_READ] : []) }, method) ?? [];

function checkRuleSet(report: Report, p: Procedure, path: string, ruleSet: RuleSet): void {
  const known = new Set(p.stages.flatMap((s) => [s.id, ...s.steps.map((x) => x.id), ...itemsOf(s.method).map((x) => x.id), ...leftOutOf(s.method)]));
  for (const id of [
    ...(ruleSet.order === 'free' ? [] : ruleSet.order),
    ...ruleSet.skip,
    ...Object.keys(ruleSet.holdFrom ?? {}),
    ...Object.values(ruleSet.holdFrom ?? {}),
  ])
    report.unless(known.has(id), path, 'stageUnknown', id);
  report.unless(!ruleSet.strict || ruleSet.order !== 'free', `${path}.strict`, 'strictWithoutOrder', ruleSet.id);
  for (const [i, r] of (ruleSet.requires ?? []).entries()) {
    checkValue(report, p, `${path}.requires[${i}].of`, r.of);
    checkValue(report, p, `${path}.requires[${i}].value`, r.value);
    checkSource(report, `${path}.requires[${i}]`, r.source);
  }
  for (const [i, prompt] of (ruleSet.prompts ?? []).entries()) {
    const where = `${path}.prompts[${i}]`;
    const timed = p.stages.some((stage) => stage.id === prompt.stage && factsOf(stage.method).timed);
    report.unless(timed, `${where}.stage`, 'stageUnknown', prompt.stage);
    report.unless(unitRow(prompt.every.unit)?.dimension === 'time' && prompt.every.value > 0, `${where}.every`, 'figureDimension', prompt.every.unit);
    checkSource(report, where, prompt.source);
  }
  checkFeel(report, p, path, ruleSet);
  // Where it leaks is looked for after it was found to; one school may leave out what another finds it by.
  for (const [i, s] of p.stages.entries()) {
    if (s.seeks === undefined || ruleSet.skip.includes(s.id)) continue;
    const before = s.seeks.every((id) => p.stages.findIndex((x) => x.id === id) < i && p.stages.some((x) => x.id === id));
    report.unless(before && s.seeks.some((id) => !ruleSet.skip.includes(id)), path, 'seeksNothing', s.id);
  }
  // Who decides in another's place comes after it, and not where that one is left out.
  for (const [i, s] of p.stages.entries()) {
    if (s.decides === undefined || ruleSet.skip.includes(s.id)) continue;
    const of = p.stages.findIndex((x) => x.id === s.decides);
    report.unless(
      of >= 0 && of < i && !ruleSet.skip.includes(s.decides) && factsOf(s.method).measured === true,
      path,
      'decidesNothing',
      `${s.id}: ${s.decides}`,
    );
  }
  if (ruleSet.suits) checkCondition(report, p, `${path}.suits`, ruleSet.suits);
  for (const [id, parameter] of Object.entries(ruleSet.parameters)) {
    checkValue(report, p, `${path}.parameters.${id}`, parameter.value);
    checkSource(report, `${path}.parameters.${id}`, parameter.source);
  }
  ruleSet.limits.forEach((l, i) => checkLimit(report, p, ruleSet, `${path}.limits[${i}]`, l));
  checkFigures(report, p, ruleSet, path, 'channels', askedFigures(p, channelsUsed(p, ruleSet)));
  for (const stage of p.stages.flatMap((s) => carriedOut(s, ruleSet) ?? [])) {
    checkFigures(report, p, ruleSet, path, stage.id, figuresOf(stage, ruleSet, p));
    const judged = stage.seeks !== undefined || factsOf(stage.method).needsNoLimit || ruleSet.limits.some((l) => l.stage === stage.id);
    report.unless(judged, `${path}.limits`, 'stageWithoutLimit', stage.id);
  }
}

/**
 * Checks a procedure as a document: every limit and figure has a source, every name it uses exists, every stage can be reached under
 * some rule set, every stage that measures has a limit, cautions and faults point somewhere, and something is done after the test.
 * @returns the flaws with their paths; an empty list for a sound procedure
 * @example checkProcedure(procedureById('suit.inflation')) // []
 */
export function checkProcedure(p: Procedure): readonly ProcedureFlaw[] {
  const report = new Report();
  for (const [role, row] of Object.entries(p.roles))
    for (const c of row.classes) report.unless(assetClass(c) !== undefined, `roles.${role}`, 'classUnknown', c);
  for (const [id, channel] of Object.entries(p.channels)) {
    report.unless(p.roles[channel.role] !== undefined, `channels.${id}.role`, 'roleUnknown', channel.role);
    report.unless(unitRow(channel.unit) !== undefined, `channels.${id}.unit`, 'unitUnknown', channel.unit);
    for (const other of [channel.unless, channel.with])
      report.unless(other === undefined || (other !== id && p.channels[other] !== undefined), `channels.${id}`, 'channelUnknown', other ?? '');
  }
  p.sources.forEach((s, i) => checkSource(report, `sources[${i}]`, s));
  const ids = p.stages.flatMap((s) => [s.id, ...s.steps.map((x) => `${s.id}/${x.id}`), ...(factsOf(s.method).parts?.(s.method) ?? [])]);
  ids.forEach((id, i) => report.unless(ids.indexOf(id) === i, 'stages', 'idRepeated', id));
  p.stages.forEach((stage, i) => {
    const path = `stages[${i}]`;
    report.unless(p.roles[stage.role] !== undefined, `${path}.role`, 'roleUnknown', stage.role);
    if (stage.when) checkCondition(report, p, `${path}.when`, stage.when);
    checkItems(report, p, stage, path);
    for (const s of stage.steps) if (s.kind === 'reach' && s.fills) checkAttribute(report, p, `${path}.${s.id}.fills`, s.fills.volume);
    for (const s of stage.steps)
      if (s.kind === 'act') report.unless(!s.stays || (s.shown !== undefined && !('agree' in s.shown)), `${path}.${s.id}`, 'staysUnshown', s.id);
    const beside = byKind({ eventPressure: (m) => [m.above, m.below] }, stage.method) ?? [];
    for (const mark of beside)
      report.unless(
        mark === undefined || p.stages.some((s) => s !== stage && byKind({ eventPressure: (m) => m.mark }, s.method) === mark),
        path,
        'markUnknown',
        mark ?? '',
      );
    for (const channel of channelsOf(stage)) report.unless(p.channels[channel] !== undefined, path, 'channelUnknown', channel);
    report.unless(
      p.ruleSets.some((r) => !r.skip.includes(stage.id)),
      path,
      'stageUnreached',
      stage.id,
    );
    if (stage.phase === 'test')
      report.unless(
        p.faults.some((f) => f.stage === stage.id),
        'faults',
        'faultsMissing',
        stage.id,
      );
  });
  report.unless(
    p.stages.some((s) => s.phase === 'aftercare'),
    'stages',
    'aftercareMissing',
    p.id,
  );
  report.unless(p.ruleSets.length > 0, 'ruleSets', 'ruleSetsNone', p.id);
  p.ruleSets.forEach((r, i) => checkRuleSet(report, p, `ruleSets[${i}]`, r));
  checkLists(report, p);
  checkTables(report, p);
  checkSetUp(report, p);
  checkClaim(report, p);
  const places = new Set(p.stages.flatMap((s) => [s.id, ...s.steps.map((x) => x.id)]));
  p.cautions.forEach((c, i) => report.unless(places.has(c.before), `cautions[${i}]`, 'cautionUnknown', c.before));
  p.faults.forEach((f, i) => report.unless(places.has(f.stage), `faults[${i}]`, 'stageUnknown', f.stage));
  return report.flaws;
}
