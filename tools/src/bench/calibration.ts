import { catalogue, convert, figureOf, judgeStage, makePlan, procedureById, ReadingList, type AttributesByRole, type ChannelInstrument, type Finding, type Lists, type Plan, type Procedure, type Quantity, type Reading, type Stage, type StageRecord } from '@grellin/core'; // prettier-ignore
import { chanceOf, practiceOf, rigFor, setupFor, type Chance } from '@grellin/core/practice';
import { report } from '../measure/ratio';

/**
 * Whether what is claimed is so: of all measurements that claim about so much, as many must truly conform. Each method is given a true value from a flat prior about
 * its limit, and readings whose errors are drawn as its gauge's figures say; the noise is in steps of the gauge.
 */
const RUNS = 10_000;
const TIGHT_RUNS = 300;

/** Two stated shares that lie further apart than this, in %, would mislead. */
const MOST_APART = 3;

/** A number of the normal distribution, by Box and Muller. */
const normal = (chance: Chance): number => Math.sqrt(-2 * Math.log(1 - chance())) * Math.cos(2 * Math.PI * chance());

/** A gauge that errs as its figures say: a part of its scale's error is common to all of a run's readings. */
function reader(gauge: ChannelInstrument, noise: number, chance: Chance): (truth: number) => number {
  const a = gauge.accuracy.value;
  const step = gauge.resolution.value;
  const rect = (): number => (2 * chance() - 1) * a;
  const common = rect() * Math.sqrt(gauge.correlation);
  return (truth) => {
    const own = rect() * Math.sqrt(1 - gauge.correlation);
    return Number((Math.round((truth + common + own + noise * step * normal(chance)) / step) * step).toFixed(9));
  };
}

const stageOf = (plan: Plan, id: string): Stage => {
  const stage = plan.stages.find((s) => s.id === id);
  if (!stage) throw new Error(`the plan has no stage ${id}`);
  return stage;
};

/** An attempt whose steps were done in time, with readings of its channels: seconds and values. */
function recordOf(
  plan: Plan,
  stage: Stage,
  marks: Readonly<Record<string, number>>,
  readings: Readonly<Record<string, readonly (readonly [number, number])[]>>,
): StageRecord {
  const lists = Object.fromEntries(
    Object.entries(readings).map(([channel, list]) => {
      const unit = plan.procedure.channels[channel]?.unit ?? '1';
      return [
        channel,
        ReadingList.of(list.map(([s, value], i): Reading => ({ at: Math.round(s * 1000), value, unit, typed: false, event: `${channel} ${String(i)}` }))),
      ];
    }),
  );
  const done = Object.fromEntries(stage.steps.map((s, i) => [s.id, (i + 1) / 10]));
  return {
    attempt: 1,
    beganAt: 0,
    endedAt: 1e9,
    endReason: null,
    marks: Object.entries({ ...done, ...marks }).map(([mark, s]) => ({ mark, at: s * 1000, event: mark })).sort((a, b) => a.at - b.at), // prettier-ignore
    answers: {},
    spots: {},
    readings: lists,
    earlier: {},
    sinceOpened: lists,
    disturbances: [],
    gaps: [],
    typedTimingMs: 0,
  };
}

function planOf(of: string | Procedure, ruleSet: string, assets: AttributesByRole, lists?: Lists): Plan {
  const procedure = typeof of === 'string' ? procedureById(of) : of;
  const made = procedure && makePlan(procedure, 'd', ruleSet, assets, undefined, { lists });
  if (!made?.ok) throw new Error(`no plan of ${procedure?.id ?? ruleSet} to calibrate with`);
  return made.plan;
}

const gaugeOf = (unit: string, high: number, accuracy: number, resolution: number, correlation: number): ChannelInstrument => {
  const q = (value: number) => ({ value, unit });
  return { fitted: true, low: q(-high), high: q(high), resolution: q(resolution), accuracy: q(accuracy), correlation, inCalibration: true };
};

/** What one simulated measurement claims, and whether it truly conforms. */
type Simulated = (chance: Chance, noise: number) => { readonly finding: Finding | undefined; readonly conforms: boolean };

const first = (findings: readonly Finding[]): Finding | undefined => findings.find((f) => f.confidence !== null);

function decay(): Simulated {
  const plan = planOf('ba.high-pressure', 'bar-10', { set: { filling: { value: 300, unit: 'bar' } } });
  const stage = stageOf(plan, 'hold');
  const gauge = gaugeOf('bar', 400, 1, 0.5, 0.9);
  return (chance, noise) => {
    const read = reader(gauge, noise, chance);
    const loss = 10 + (chance() - 0.5) * 8;
    const start = 265 + 10 * chance();
    const readings = [[0.05, 270] as const, ...Array.from({ length: 31 }, (_, i) => [100 + 2 * i, read(start - (loss * i) / 30)] as const)];
    const record = recordOf(plan, stage, { pressurise: 1, shut: 2, settle: 60, start: 100 }, { line: readings });
    return { finding: first(judgeStage(plan, stage, record, { line: gauge })), conforms: loss <= 10 };
  };
}

const celsius = (value: number): Quantity => ({ value, unit: 'Cel' });

/** A hold at 20 kPa while the air in the tank drifts by up to a tenth of a kelvin, read on a thermometer: what is left once that is taken off is judged. */
function driftMeasured(): Simulated {
  const base = procedureById('tank.ibc');
  const rules = base?.ruleSets.find((r) => r.id === 'un');
  if (!base || !rules) throw new Error('no transport tank to calibrate with');
  const source = { title: 'common practice' };
  const permitted = 0.4;
  const read20: Procedure = {
    ...base,
    channels: { ...base.channels, temperature: { role: 'tank', unit: 'Cel', title: 'Air in the tank' } },
    stages: base.stages.map((s) => (s.id === 'hold' && s.method.kind === 'decay' ? { ...s, method: { ...s.method, gas: { temperature: 'temperature' } } } : s)), // prettier-ignore
    ruleSets: [{ ...rules, limits: [{ id: 'left', stage: 'hold', of: 'loss', op: '<=', value: { value: permitted, unit: 'kPa' }, corrected: true, source }] }],
  };
  const plan = planOf(read20, 'un', { tank: { volume: { value: 1000, unit: 'L' } } });
  const stage = stageOf(plan, 'hold');
  const gauge = gaugeOf('kPa', 40, 0.05, 0.01, 0.9);
  const thermometer = { ...gaugeOf('Cel', 60, 0.05, 0.01, 0), low: celsius(-20) };
  const hold = convert(figureOf(plan, 'hold'), 's').value;
  const [atmosphere, kelvin] = [101.325, 293.15];
  return (chance, noise) => {
    const [pressure, warmth] = [reader(gauge, noise, chance), reader(thermometer, noise, chance)];
    const loss = permitted + (chance() - 0.5) * 0.3;
    const drift = 0.2 * (chance() - 0.5);
    const moved = ((atmosphere + 21) * drift) / kelvin;
    const tank = [[0.15, 21] as const, [300, pressure(21)] as const, [300 + hold, pressure(21 - loss + moved)] as const];
    const temperature = [[300, warmth(20)] as const, [300 + hold, warmth(20 + drift)] as const];
    const record = recordOf(plan, stage, { 'relief-out': 0.1, pressurise: 0.2, 'supply-off': 1, settle: 200, start: 300 }, { tank, temperature });
    return { finding: first(judgeStage(plan, stage, record, { tank: gauge, temperature: thermometer })), conforms: loss <= permitted };
  };
}

function expansion(): Simulated {
  const { plan } = practiceOf('cyl.water-jacket', 'us-metal', rigFor('cyl.water-jacket') ?? '', 'none');
  const stage = stageOf(plan, 'expand');
  const gauge = gaugeOf('bar', 700, 3, 1, 0.9);
  const scale = gaugeOf('mL', 400, 0.5, 0.1, 0.9);
  return (chance, noise) => {
    const water = reader(scale, noise, chance);
    const total = 145 + 10 * chance();
    const permanent = (0.1 + (chance() - 0.5) * 0.02) * total;
    const record = recordOf(plan, stage, { zeroed: 1, start: 11, 'total-read': 74, 'permanent-read': 101 }, {
      pressure: [[0.9, 0], [10, 305], [40, 305], [73, 305], [100, 0]],
      water: [[0.9, 0], [73, water(total)], [100, water(permanent)]],
    }); // prettier-ignore
    const percent = judgeStage(plan, stage, record, { pressure: gauge, water: scale }).find((f) => f.limit?.of === 'percent');
    return { finding: percent, conforms: permanent <= 0.1 * total };
  };
}

function relief(): Simulated {
  const plan = planOf('valve.relief', 'asme', { valve: { set: { value: 100, unit: '[psi]' } } });
  const stage = stageOf(plan, 'crack');
  const gauge = gaugeOf('[psi]', 200, 0.5, 0.1, 0.98);
  return (chance, noise) => {
    const read = reader(gauge, noise, chance);
    const opens = 97 + (chance() - 0.5) * 3;
    const up = Array.from({ length: Math.round((opens - 92) * 20) }, (_, i) => 92 + i / 20);
    const truth = [...up, ...Array.from({ length: 24 }, (_, i) => opens - i / 3), ...Array.from({ length: 40 }, (_, i) => opens - 8 + i / 80)];
    const pressure = truth.map((p, i) => [100 + i / 40, read(p)] as const);
    const record = recordOf(plan, stage, { 'lift-1': 100, 'shut-1': 100 + truth.length / 40 }, { pressure });
    const low = judgeStage(plan, stage, record, { pressure: gauge }).find((f) => f.limit?.op === '>=' && f.confidence !== null);
    return { finding: low, conforms: opens >= 97 };
  };
}

function stroke(): Simulated {
  const axles = [{ unit: '1', chamber: '30' }];
  const plan = planOf('brakes.whole', 'build-from-low', { vehicle }, { axles });
  const stage = stageOf(plan, 'stroke.1');
  const rod = gaugeOf('[in_i]', 6, 1 / 32, 1 / 16, 0.5);
  const dash = gaugeOf('[psi]', 200, 1, 0.5, 0.95);
  return (chance, noise) => {
    const read = reader(rod, noise, chance);
    const left = 2 + (chance() - 0.5) / 2;
    const record = recordOf(plan, stage, {}, { primary: [[0.05, 105]], strokeLeft: [[10, read(left)]], strokeRight: [[11, read(1.5)]] });
    const found = judgeStage(plan, stage, record, { primary: dash, strokeLeft: rod, strokeRight: rod }).find((f) => f.channel === 'strokeLeft');
    return { finding: found, conforms: left < 2 };
  };
}

function halfLife(): Simulated {
  const plan = planOf('store.half-life', 'new', { store: { volume: { value: 100, unit: 'm3' } } });
  const stage = stageOf(plan, 'half');
  const gauge = gaugeOf('Pa', 500, 2, 1, 0.9);
  return (chance, noise) => {
    const read = reader(gauge, noise, chance);
    const half = 300 + (chance() - 0.5) * 80;
    const held = Array.from({ length: 180 }, (_, i) => [200 + 2 * i, read(250 * 2 ** ((-2 * i) / half))] as const);
    const readings = [[0.15, 260] as const, [198, 250] as const, ...held];
    const record = recordOf(plan, stage, { fill: 0.2, shut: 0.3, settle: 100, trim: 199, start: 200 }, { store: readings });
    return { finding: first(judgeStage(plan, stage, record, { store: gauge })), conforms: half >= 300 };
  };
}

function makeUpFlow(): Simulated {
  const plan = planOf('anaes.circle', 'human', { circuit: {} });
  const stage = stageOf(plan, 'make-up');
  const gauge = gaugeOf('cm[H2O]', 60, 0.5, 0.1, 0.9);
  const meter = gaugeOf('mL/min', 1000, 10, 1, 0.9);
  const gives = convert(figureOf(plan, 'gives'), 'mL/cm[H2O]').value;
  return (chance, noise) => {
    const [needle, flow] = [reader(gauge, noise, chance), reader(meter, noise, chance)];
    const leak = 150 + (chance() - 0.5) * 80;
    // The needle creeps by up to half a centimetre in ten seconds, down: what the item gives for it is no flow.
    const fall = 0.5 * chance();
    const fed = leak - gives * fall * 6;
    const seconds = Array.from({ length: 22 }, (_, i) => i / 2);
    const record = recordOf(plan, stage, { 'fill-again': 0.5, still: 1, start: 10 }, {
      pressure: [[0.05, 30], ...seconds.map((s) => [10 + s, needle(30.5 - (fall * s) / 10)] as const)],
      flow: seconds.map((s) => [10 + s, flow(fed)] as const),
    }); // prettier-ignore
    return { finding: first(judgeStage(plan, stage, record, { pressure: gauge, flow: meter })), conforms: leak <= 150 };
  };
}

const vehicle = {
  units: { value: 1, unit: '1' },
  reservoir: { value: 45, unit: 'L' },
  axles: { value: 1, unit: '1' },
  lowAirLamp: true,
  lowAirBuzzer: true,
  secondLamp: false,
  lowAirMessage: false,
  school: 'general',
};

function elapsed(): Simulated {
  const plan = planOf('brakes.whole', 'single', { vehicle });
  const stage = stageOf(plan, 'build-up');
  const gauge = gaugeOf('[psi]', 200, 1, 0.5, 0.95);
  return (chance, noise) => {
    const read = reader(gauge, noise, chance);
    const took = 45 + (chance() - 0.5) * 20;
    const readings = Array.from({ length: 2 * 75 }, (_, i) => [1 + i / 2, read(80 + ((15 / took) * i) / 2)] as const);
    const record = recordOf(plan, stage, { passed: 76 }, { primary: readings });
    return { finding: first(judgeStage(plan, stage, record, { primary: gauge })), conforms: took <= 45 };
  };
}

function eventPressure(): Simulated {
  const plan = planOf('brakes.whole', 'single', { vehicle });
  const stage = stageOf(plan, 'warning');
  const gauge = gaugeOf('[psi]', 200, 1, 0.5, 0.95);
  return (chance, noise) => {
    const read = reader(gauge, noise, chance);
    const at = 55 + (chance() - 0.5) * 8;
    const readings = Array.from({ length: 21 }, (_, i) => [5 + i / 2, read(at - (i / 2 - 5))] as const);
    // The hand is a fifth of a second off, either way.
    const record = recordOf(plan, stage, { warns: 10 + 0.2 * normal(chance) }, { primary: readings, secondary: readings });
    return { finding: first(judgeStage(plan, stage, record, { primary: gauge, secondary: gauge })), conforms: at >= 55 };
  };
}

const methods: Readonly<Record<string, () => Simulated>> = {
  decay,
  'decay, drift of 0.1 K measured': driftMeasured,
  halfLife,
  makeUpFlow,
  elapsed,
  eventPressure,
  expansion,
  relief,
  stroke,
};

function calibrate(name: string, simulate: Simulated, noise: number): void {
  const chance = chanceOf(20_261_128);
  const bins = Array.from({ length: 10 }, () => ({ n: 0, claimed: 0, kept: 0 }));
  for (let i = 0; i < RUNS; i++) {
    const { finding, conforms } = simulate(chance, noise);
    const claimed = finding?.confidence?.conforms;
    const bin = claimed === undefined ? undefined : bins[Math.min(9, Math.floor(claimed * 10))];
    if (!bin || claimed === undefined) continue;
    bin.n += 1;
    bin.claimed += claimed;
    if (conforms) bin.kept += 1;
  }
  const total = bins.reduce((a, b) => a + b.n, 0);
  const apart = bins.reduce((a, b) => a + Math.abs(b.claimed - b.kept), 0) / Math.max(1, total);
  const shown = bins.map((b) => (b.n === 0 ? '–' : `${((100 * b.claimed) / b.n).toFixed(0)}:${((100 * b.kept) / b.n).toFixed(0)}`)).join(' ');
  report(`claimed and true, ${name}, noise of ${String(noise)} steps, apart by %`, (100 * apart), MOST_APART, `${String(total)} of ${String(RUNS)} judged; claimed:true by tenths ${shown}`); // prettier-ignore
}

/** How often a tight item, read on the instruments that its practice bench has, is not called tight. */
function tightItems(): void {
  const chance = chanceOf(7);
  let worst = { share: 0, where: '' };
  const over: string[] = [];
  for (const p of catalogue)
    for (const r of p.ruleSets) {
      const rig = rigFor(p.id);
      if (rig === undefined) continue;
      const { plan, opened } = practiceOf(p.id, r.id, rig, 'none');
      const { sensors, inputs } = setupFor(p.id, r.id);
      for (const stage of plan.stages) {
        const { method } = stage;
        if (stage.phase !== 'test' || method.kind !== 'decay') continue;
        const limits = plan.limits.filter((l) => l.stage === stage.id && l.of !== 'firstDrop');
        if (limits.length === 0) continue;
        const [low, high] = [figureOf(plan, method.start.low), figureOf(plan, method.start.high)];
        const hold = convert(figureOf(plan, method.hold), 's').value;
        let unsure = 0;
        for (let i = 0; i < TIGHT_RUNS; i++) {
          const readings = Object.fromEntries(
            method.channels.map((channel) => {
              const instrument = opened.instruments[channel];
              const unit = plan.procedure.channels[channel]?.unit ?? '';
              const stands = convert(low, unit).value + (convert(high, unit).value - convert(low, unit).value) * chance();
              const sensor = sensors[inputs[channel] ?? ''];
              const step = instrument ? convert(instrument.resolution, unit).value : 1;
              // An instrument that fits: its noise is a part of its step.
              const noise = Math.min(0.3 * step, sensor ? convert({ value: sensor.noise, unit: sensor.unit }, unit).value : 0);
              const at = (s: number) => [s, Number((Math.round((stands + noise * normal(chance)) / step) * step).toFixed(9))] as const;
              return [
                channel,
                [
                  ...Array.from({ length: 10 }, (_, k) => at(0.01 * (k + 1))),
                  ...Array.from({ length: 20 }, (_, k) => at(4990 + k / 2)),
                  ...Array.from({ length: 60 }, (_, k) => at(5000 + (hold * k) / 59)),
                ],
              ];
            }),
          );
          // What the stage does not read is not fitted.
          const fitted = Object.entries(opened.instruments).filter(([c]) => method.channels.includes(c));
          const instruments = Object.fromEntries(fitted.map(([c, g]) => [c, { ...g, inCalibration: true }]));
          const settled = Object.fromEntries(stage.steps.map((s, k) => [s.id, s.kind === 'wait' ? 4000 + k : 0.05 + k / 1000]));
          const found = judgeStage(plan, stage, recordOf(plan, stage, { ...settled, start: 5000 }, readings), instruments).filter((f) => f.limit !== null);
          if (found.some((f) => f.verdict !== 'pass')) unsure += 1;
        }
        if (unsure / TIGHT_RUNS > 0.01) over.push(`${p.id} ${r.id} ${stage.id} ${String(Math.round((100 * unsure) / TIGHT_RUNS))} %`);
        if (unsure / TIGHT_RUNS >= worst.share) worst = { share: unsure / TIGHT_RUNS, where: `${p.id}, ${r.id}, ${stage.id}` };
      }
    }
  report('tight items that are not called tight, the worst rule set, in %', 100 * worst.share, 1, over.length > 0 ? over.join('; ') : worst.where);
}

/** Coverage of the stated confidence by method and noise, and tight items that are not called so. */
export function calibration(): void {
  for (const [name, make] of Object.entries(methods)) {
    const simulate = make();
    for (const noise of [0, 0.5, 1]) calibrate(name, simulate, noise);
  }
  tightItems();
}
