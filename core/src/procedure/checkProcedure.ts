import { sameDimension, unitRow, type Dimension, type Unit } from '../quantity';
import { assetClass } from './assetClass';
import type { AttributeRef, Condition, Id, Limit, Measure, MethodKind, Procedure, RuleSet, Source, Stage, Value } from './language';

/** What is wrong with a procedure, and where. */
export interface ProcedureFlaw {
  readonly path: string;
  readonly code:
    | 'classUnknown'
    | 'roleUnknown'
    | 'channelUnknown'
    | 'unitUnknown'
    | 'attributeUnknown'
    | 'figureUnknown'
    | 'figureDimension'
    | 'stageUnknown'
    | 'stageUnreached'
    | 'stageWithoutLimit'
    | 'measureUnfit'
    | 'sourceMissing'
    | 'idRepeated'
    | 'ruleSetsNone'
    | 'aftercareMissing'
    | 'cautionUnknown'
    | 'faultsMissing';
  readonly about: string;
}

/** Which measures each method can show. */
const measures: Readonly<Record<MethodKind, readonly Measure[]>> = {
  decay: ['loss', 'lossPerMinute', 'end', 'ratio', 'firstDrop'],
  check: [],
};

const dimensionOf: Readonly<Record<Measure, Dimension>> = {
  loss: 'pressure',
  lossPerMinute: 'pressure',
  end: 'pressure',
  firstDrop: 'pressure',
  ratio: 'number',
};

/** Collects flaws under a path, so that the checks below read as a list of statements. */
class Report {
  readonly flaws: ProcedureFlaw[] = [];
  unless(ok: boolean, path: string, code: ProcedureFlaw['code'], about: string): void {
    if (!ok) this.flaws.push({ path, code, about });
  }
}

function checkAttribute(report: Report, p: Procedure, path: string, ref: AttributeRef): void {
  const [role = '', attribute = ''] = ref.split('.');
  const classes = p.roles[role]?.classes ?? [];
  const everywhere = classes.length > 0 && classes.every((c) => assetClass(c)?.attributes.some((a) => a.id === attribute));
  report.unless(everywhere, path, 'attributeUnknown', ref);
}

function checkCondition(report: Report, p: Procedure, path: string, condition: Condition): void {
  if ('all' in condition) condition.all.forEach((c, i) => checkCondition(report, p, `${path}.all[${i}]`, c));
  else checkAttribute(report, p, `${path}.attribute`, condition.attribute);
}

function checkValue(report: Report, p: Procedure, path: string, value: Value): void {
  if ('rows' in value) {
    value.rows.forEach((r, i) => {
      checkCondition(report, p, `${path}.rows[${i}].when`, r.when);
      report.unless(unitRow(r.value.unit) !== undefined, `${path}.rows[${i}].value`, 'unitUnknown', r.value.unit);
    });
  } else if ('attribute' in value) checkAttribute(report, p, `${path}.attribute`, value.attribute);
  else report.unless(unitRow(value.unit) !== undefined, path, 'unitUnknown', value.unit);
}

function checkSource(report: Report, path: string, source: Source): void {
  report.unless(
    source.title.trim() !== '' && (source.title !== 'common practice' || source.clause === undefined),
    `${path}.source`,
    'sourceMissing',
    source.title,
  );
}

function unitsOf(value: Value): readonly Unit[] {
  if ('rows' in value) return value.rows.map((r) => r.value.unit);
  return 'attribute' in value ? [] : [value.unit];
}

/** Every figure that a stage needs under a rule set, with the unit it is compared in. */
function figuresOf(stage: Stage, ruleSet: RuleSet, p: Procedure): { id: Id; like: Unit }[] {
  const steps = stage.steps.filter((s) => !ruleSet.skip.includes(s.id));
  const needed = steps.flatMap((s) => {
    if (s.kind === 'wait') return [{ id: s.s, like: 's' }];
    if (s.kind === 'reach') return [s.low, s.high].map((id) => ({ id, like: p.channels[s.channel]?.unit ?? '' }));
    return [];
  });
  const m = stage.method;
  if (m.kind !== 'decay') return needed;
  const like = p.channels[m.channels[0] ?? '']?.unit ?? '';
  return [...needed, { id: m.hold, like: 's' }, { id: m.start.low, like }, { id: m.start.high, like }, ...(m.top === undefined ? [] : [{ id: m.top, like }])];
}

function checkLimit(report: Report, p: Procedure, ruleSet: RuleSet, path: string, limit: Limit): void {
  const stage = p.stages.find((s) => s.id === limit.stage);
  report.unless(stage !== undefined, `${path}.stage`, 'stageUnknown', limit.stage);
  checkSource(report, path, limit.source);
  checkValue(report, p, `${path}.value`, limit.value);
  if (limit.when) checkCondition(report, p, `${path}.when`, limit.when);
  if (!stage) return;
  report.unless(!ruleSet.skip.includes(stage.id), `${path}.stage`, 'stageUnreached', stage.id);
  report.unless(measures[stage.method.kind].includes(limit.of), `${path}.of`, 'measureUnfit', limit.of);
  for (const unit of unitsOf(limit.value)) report.unless(unitRow(unit)?.dimension === dimensionOf[limit.of], `${path}.value`, 'figureDimension', unit);
  if (limit.channel !== undefined && stage.method.kind === 'decay')
    report.unless(stage.method.channels.includes(limit.channel), `${path}.channel`, 'channelUnknown', limit.channel);
}

function checkRuleSet(report: Report, p: Procedure, path: string, ruleSet: RuleSet): void {
  const known = new Set(p.stages.flatMap((s) => [s.id, ...s.steps.map((x) => x.id)]));
  for (const id of [
    ...(ruleSet.order === 'free' ? [] : ruleSet.order),
    ...ruleSet.skip,
    ...Object.keys(ruleSet.holdFrom ?? {}),
    ...Object.values(ruleSet.holdFrom ?? {}),
  ])
    report.unless(known.has(id), path, 'stageUnknown', id);
  if (ruleSet.suits) checkCondition(report, p, `${path}.suits`, ruleSet.suits);
  for (const [id, parameter] of Object.entries(ruleSet.parameters)) {
    checkValue(report, p, `${path}.parameters.${id}`, parameter.value);
    checkSource(report, `${path}.parameters.${id}`, parameter.source);
  }
  ruleSet.limits.forEach((l, i) => checkLimit(report, p, ruleSet, `${path}.limits[${i}]`, l));
  for (const stage of p.stages.filter((s) => !ruleSet.skip.includes(s.id))) {
    for (const { id, like } of figuresOf(stage, ruleSet, p)) {
      const parameter = ruleSet.parameters[id];
      report.unless(parameter !== undefined, `${path}.parameters`, 'figureUnknown', `${stage.id}: ${id}`);
      for (const unit of parameter ? unitsOf(parameter.value) : [])
        report.unless(sameDimension(unit, like), `${path}.parameters.${id}`, 'figureDimension', unit);
    }
    const judged = stage.method.kind !== 'decay' || ruleSet.limits.some((l) => l.stage === stage.id);
    report.unless(judged, `${path}.limits`, 'stageWithoutLimit', stage.id);
  }
}

/**
 * Checks a procedure as a document: every limit and figure has a source, every name it uses exists, every stage can be reached under
 * some rule set, every stage that measures has a limit, cautions and faults point somewhere, and something is done after the test.
 * @returns the flaws with their paths; an empty list for a sound procedure
 */
export function checkProcedure(p: Procedure): readonly ProcedureFlaw[] {
  const report = new Report();
  for (const [role, row] of Object.entries(p.roles))
    for (const c of row.classes) report.unless(assetClass(c) !== undefined, `roles.${role}`, 'classUnknown', c);
  for (const [id, channel] of Object.entries(p.channels)) {
    report.unless(p.roles[channel.role] !== undefined, `channels.${id}.role`, 'roleUnknown', channel.role);
    report.unless(unitRow(channel.unit) !== undefined, `channels.${id}.unit`, 'unitUnknown', channel.unit);
  }
  p.sources.forEach((s, i) => checkSource(report, `sources[${i}]`, s));
  const ids = p.stages.flatMap((s) => [
    s.id,
    ...s.steps.map((x) => `${s.id}/${x.id}`),
    ...(s.method.kind === 'check' ? s.method.items.map((x) => `item ${x.id}`) : []),
  ]);
  ids.forEach((id, i) => report.unless(ids.indexOf(id) === i, 'stages', 'idRepeated', id));
  p.stages.forEach((stage, i) => {
    const path = `stages[${i}]`;
    report.unless(p.roles[stage.role] !== undefined, `${path}.role`, 'roleUnknown', stage.role);
    if (stage.when) checkCondition(report, p, `${path}.when`, stage.when);
    const used = [...(stage.method.kind === 'decay' ? stage.method.channels : []), ...stage.steps.flatMap((s) => (s.kind === 'reach' ? [s.channel] : []))];
    for (const channel of used) report.unless(p.channels[channel] !== undefined, path, 'channelUnknown', channel);
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
  const places = new Set(p.stages.flatMap((s) => [s.id, ...s.steps.map((x) => x.id)]));
  p.cautions.forEach((c, i) => report.unless(places.has(c.before), `cautions[${i}]`, 'cautionUnknown', c.before));
  p.faults.forEach((f, i) => report.unless(places.has(f.stage), `faults[${i}]`, 'stageUnknown', f.stage));
  return report.flaws;
}
