/** The instruments of Skarvoy Sound Station besides those that are fitted to its items. */

export interface DemoInstrument {
  readonly tag: string;
  readonly title: string;
  readonly range: readonly [number, number, string];
  readonly resolution: number;
  readonly accuracy: number;
  readonly correlation: number;
  readonly calibrationInDays: number | null;
  readonly address: string | null;
  readonly rig: string | null;
}

const logger = (n: number, calibrationInDays: number): DemoInstrument => ({
  tag: `PL-0${n}`,
  title: 'Pressure logger 0–50 mbar',
  range: [0, 50, 'mbar'],
  resolution: 0.01,
  accuracy: 0.05,
  correlation: 0.9,
  calibrationInDays,
  address: `sim/PL-0${n}/p1`,
  rig: 'suit',
});

const pair = (n: number, input: 1 | 2, calibrationInDays: number): DemoInstrument => ({
  tag: `BP-0${n}${input === 1 ? 'a' : 'b'}`,
  title: `Brake logger 0–200 psi, input ${input}`,
  range: [0, 200, '[psi]'],
  resolution: 0.1,
  accuracy: 1,
  correlation: 0.97,
  calibrationInDays,
  address: `sim/BP-0${n}/p${input}`,
  rig: 'air-brakes',
});

export const instruments: readonly DemoInstrument[] = [
  logger(1, 210),
  logger(2, 9),
  logger(3, 180),
  logger(4, 155),
  pair(1, 1, 300),
  pair(1, 2, 300),
  pair(2, 1, 120),
  pair(2, 2, 120),
  {
    tag: 'MG-01',
    title: 'Dial manometer 0–10 inH2O',
    range: [0, 10, "[in_i'H2O]"],
    resolution: 0.05,
    accuracy: 0.1,
    correlation: 0.9,
    calibrationInDays: 95,
    address: null,
    rig: null,
  },
  {
    tag: 'MG-02',
    title: 'Dial manometer 0–25 mbar',
    range: [0, 25, 'mbar'],
    resolution: 0.25,
    accuracy: 0.4,
    correlation: 0,
    calibrationInDays: 70,
    address: null,
    rig: null,
  },
  {
    tag: 'MG-03',
    title: 'Slack-tube manometer 0–200 mmH2O',
    range: [0, 200, 'mm[H2O]'],
    resolution: 1,
    accuracy: 1,
    correlation: 0.95,
    calibrationInDays: -12,
    address: null,
    rig: null,
  },
];

const byEye = (tag: string, title: string, range: DemoInstrument['range'], resolution: number, accuracy: number): DemoInstrument => ({
  tag,
  title,
  range,
  resolution,
  accuracy,
  correlation: 0.9,
  calibrationInDays: 140,
  address: null,
  rig: null,
});

/** What is read by eye beside the simulated instruments. */
export const eyes: readonly DemoInstrument[] = [
  byEye('RU-01', 'Push-rod rule, sixteenths', [0, 6, '[in_i]'], 0.0625, 0.03125),
  byEye('BC-01', 'Bubble counter', [0, 1000, '1'], 1, 1),
  byEye('CM-01', 'Inclined column, water', [0, 14, "[in_i'H2O]"], 0.01, 0.02),
  byEye('TA-01', 'Hand tachometer', [0, 3000, '/min'], 10, 20),
  byEye('TQ-01', 'Torque wrench', [0, 100, '[ft_i].[lbf_av]'], 1, 2),
  byEye('TH-01', 'Thermometer', [0, 50, 'Cel'], 0.1, 0.2),
];

/** The titles of the benches' simulated instruments, by the first letters of their device. */
export const benchTitles: Readonly<Record<string, string>> = {
  BP: 'Brake bench with engine speed',
  BS: 'Breathing set on the stand',
  HP: 'High-pressure gauge line',
  FP: 'Test head',
  DS: 'Dry-suit manometer',
  CB: 'Circuit bench',
  WJ: 'Water-jacket bench',
  IP: 'Tank test gauge',
  VT: 'Vapour manometer',
  CT: 'Cargo-tank manometer',
  VS: 'Vent stand',
  RB: 'Relief bench, 200 Hz',
  SP: 'Store column',
  PA: 'Practice article',
};
