import { writeFileSync } from 'node:fs';
import { runFileJsonSchema, RUN_FILE_FORMAT } from '@grellin/contract';
import { makePlan, procedureById, type Attributes, type InstrumentCopy } from '@grellin/core';
import { perform } from '@grellin/core/practice';

/** Writes docs/samples and the published JSON Schema: the samples are carried out on the rigs, never typed in. */
interface Sample {
  readonly name: string;
  readonly procedure: string;
  readonly ruleSet: string;
  readonly role: string;
  readonly asset: { readonly id: string; readonly attributes: Attributes };
  readonly rig: string;
  readonly fault: string;
  readonly inputs: Readonly<Record<string, string>>;
  readonly instrument: InstrumentCopy;
  readonly unit: string;
  readonly readings: 'samples' | 'typed';
}

const psi = (value: number) => ({ value, unit: '[psi]' });
const mbar = (value: number) => ({ value, unit: 'mbar' });
const manometer: InstrumentCopy = {
  id: 'PL-01',
  fitted: false,
  low: mbar(0),
  high: mbar(50),
  resolution: mbar(0.01),
  accuracy: mbar(0.05),
  correlation: 0.9,
  calibrationDue: '2027-06-30',
};
const brakeLogger: InstrumentCopy = {
  id: 'BP-01',
  fitted: false,
  low: psi(0),
  high: psi(200),
  resolution: psi(0.1),
  accuracy: psi(1),
  correlation: 0.97,
  calibrationDue: '2027-06-30',
};

const suit = (name: string, fault: string): Sample => ({
  name: `suit-inflation-${name}`,
  procedure: 'suit.inflation',
  ruleSet: 'mbar-16.5',
  role: 'suit',
  asset: { id: 'GS-02', attributes: { openFaced: false, exhaustValves: { value: 2, unit: '1' }, buildStandard: 'EN 943-1' } },
  rig: 'suit',
  fault,
  inputs: { suit: 'p1' },
  instrument: manometer,
  unit: 'mbar',
  readings: 'samples',
});
const brakes = (name: string, fault: string): Sample => ({
  name: `brakes-applied-loss-${name}`,
  procedure: 'brakes.applied-loss',
  ruleSet: 'single',
  role: 'vehicle',
  asset: { id: 'TR-02', attributes: { units: { value: 1, unit: '1' }, useAs: 'single' } },
  rig: 'air-brakes',
  fault,
  inputs: { primary: 'p1', secondary: 'p2' },
  instrument: brakeLogger,
  unit: '[psi]',
  readings: 'samples',
});

for (const s of [suit('pass', 'none'), suit('fail', 'zip end'), brakes('pass', 'none'), brakes('fail', 'chamber diaphragm')]) {
  const procedure = procedureById(s.procedure);
  const made = procedure && makePlan(procedure, '0'.repeat(64), s.ruleSet, { [s.role]: s.asset.attributes });
  if (!made?.ok) throw new Error(`no plan for ${s.name}`);
  const startedAt = '2026-11-25T08:00:00.000Z';
  const channels = Object.keys(s.inputs);
  const instruments = Object.fromEntries(channels.map((c) => [c, s.instrument]));
  const sensor = { unit: s.unit, resolution: s.instrument.resolution.value, noise: s.instrument.resolution.value * 0.8, zero: 0 };
  const { events } = perform({
    plan: made.plan,
    opened: { startedAt, procedure: '0'.repeat(64), ruleSet: s.ruleSet, assets: { [s.role]: s.asset }, instruments, clock: 'simulated' },
    rig: s.rig,
    fault: s.fault,
    sensors: { p1: sensor, p2: sensor },
    inputs: s.inputs,
    seed: 5,
    readings: s.readings,
    name: (i) => `e${i}`,
  });
  // The file's head stands for the opening event, which the person's source had counted as its first.
  const rest = events.slice(1).map((e) => (e.source === 'hand' ? { ...e, n: e.n - 1 } : e));
  const file = {
    format: RUN_FILE_FORMAT,
    procedure: { id: made.plan.procedure.id, edition: made.plan.procedure.edition },
    ruleSet: s.ruleSet,
    startedAt,
    clock: 'simulated',
    assets: { [s.role]: s.asset },
    instruments,
    events: rest,
  };
  writeFileSync(`docs/samples/${s.name}.json`, `${JSON.stringify(file)}\n`);
}
writeFileSync('docs/run-file.schema.json', `${JSON.stringify(runFileJsonSchema(), null, 2)}\n`);
