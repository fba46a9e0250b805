import { describe, expect, it } from 'vitest';
import {
  afterApplication,
  airZ,
  airZOfDensity,
  AIR_DENSITY,
  bagSize,
  capillaryThroughput,
  chokedDecayConstant,
  chokedLeak,
  compressorEfficiency,
  compressorRise,
  correctedLossPa,
  CRITICAL_RATIO,
  decayConstant,
  driftEqualToLoss,
  elasticShare,
  endurance,
  equivalentHole,
  flowThroughHole,
  freeAir,
  gasEnd,
  leakFlow,
  leastFillMinutes,
  leastUllageTwoInch,
  logMeanPressure,
  lossAtPressure,
  massFlux,
  minutesLost,
  pressureAt,
  pressurePerKelvin,
  referenceStates,
  rewarmingRise,
  settlingDrop,
  timeToPressure,
  sonicConductanceFlow,
  springBrakeShare,
  ullageSum,
  volumeFromKnownFlow,
  waterCompression,
  waterDensity,
  waterFactor,
  weighedWater,
} from '../../src/physics';
import { pureWaterDensity, waterGives } from '../../src/rig';

const PSI = 6894.757293168361;
const CM = 98.0665;
const INCH = 249.08891;
const P0 = 101_325;

/** Within a relative tolerance; 1e-6 unless the source is printed to fewer digits. */
function near(got: number, want: number, relative = 1e-6): void {
  expect(Math.abs(got - want), `${got} is not ${want}`).toBeLessThanOrEqual(Math.abs(want) * relative);
}

describe('a leak as a flow (mole balance; EN 13184, from memory)', () => {
  const suit = [gasEnd(1650), gasEnd(1500), 0.2, 360] as const;
  const air = [gasEnd(100 * PSI), gasEnd(97 * PSI), 0.09, 60] as const;
  const circle = [gasEnd(30 * CM), gasEnd(27 * CM), 0.006, 30] as const;
  const silo = [gasEnd(250), gasEnd(125), 100, 300] as const;

  it.each([
    ['suit, room', suit, referenceStates.room, 49.34616],
    ['reservoirs, room', air, referenceStates.room, 18372.41],
    ['circle, room', circle, referenceStates.room, 34.84228],
    ['silo, room', silo, referenceStates.room, 24673.08],
    ['suit, normal', suit, referenceStates.normal, 45.97955],
    ['reservoirs, IUPAC', air, referenceStates.iupac, 17345.79],
    ['circle, ISO 2533', circle, referenceStates.iso2533, 34.24801],
    ['silo, ANR', silo, referenceStates.anr, 25000],
    ['suit, scfm', suit, referenceStates.scfm, 48.59786],
  ])('%s: %#', (_, [start, end, volume, seconds], state, want) => near(leakFlow(start, end, volume, seconds, state) * 6e7, want));

  it.each([
    ['suit warmed by 0.5 K', gasEnd(1650), gasEnd(1500, 293.65), 0.2, 360, 0.1069433],
    ['suit cooled by 0.5 K: negative, which is drift and no leak', gasEnd(1650), gasEnd(1500, 292.65), 0.2, 360, -0.00844778],
    ['suit, barometer down 1 hPa', gasEnd(1650), gasEnd(1500, 293.15, 101_225), 0.2, 360, 0.08224361],
    ['reservoirs cooled 40 to 38 °C', gasEnd(100 * PSI, 313.15), gasEnd(97 * PSI, 311.15), 0.09, 60, 13.08297],
    ['silo warmed by 0.2 K', gasEnd(250), gasEnd(125, 293.35), 100, 300, 38.32549],
    ['silo, barometer down 0.5 hPa', gasEnd(250), gasEnd(125, 293.15, 101_275), 100, 300, 34.54231],
  ])('%s', (_, start, end, volume, seconds, want) => near(leakFlow(start, end, volume, seconds) * 6e4, want));

  it.each([
    [0, 34.84228],
    [1, 40.99907],
    [5, 65.62623],
    [20, 157.9781],
    [50, 342.6818],
  ])('a circuit that gives %d mL/cmH2O', (c, want) =>
    near(leakFlow(gasEnd(30 * CM), gasEnd(27 * CM), 0.006, 30, referenceStates.room, (c * 1e-6) / CM) * 6e7, want),
  );

  it('names the mean pressure, the rate constant and the volume behind a known flow', () => {
    near(logMeanPressure(1650, 1500), 1573.809);
    expect(logMeanPressure(5, 5)).toBe(5);
    near(decayConstant(1650, 1500, 360) * 60, 0.01588503);
    near(volumeFromKnownFlow(1e-5, 20, 10), 0.101325);
    near(timeToPressure(250, 125, decayConstant(250, 125, 300)), 300);
    expect(timeToPressure(250, 125, 0)).toBe(Number.POSITIVE_INFINITY);
  });

  it('takes measured drift off: 2 bar cooled from 20 to 15 °C, no leak (PHY-E2)', () => {
    near(200_000 - (((200_000 + P0) * 288.15) / 293.15 - P0), 5139.43, 1e-5);
    expect(Math.abs(correctedLossPa(gasEnd(200_000), gasEnd(200_000 - 5139.43, 288.15)))).toBeLessThan(0.01);
  });

  it('refuses a time, a volume or a temperature that cannot be', () => {
    expect(() => leakFlow(gasEnd(1), gasEnd(0), 0, 1)).toThrow(RangeError);
    expect(() => leakFlow(gasEnd(1), gasEnd(0), 1, 0)).toThrow(RangeError);
    expect(() => leakFlow(gasEnd(1, 0), gasEnd(0), 1, 1)).toThrow(RangeError);
  });
});

describe('temperature and barometer (Gay-Lussac)', () => {
  it.each([
    [1650, 351.2707],
    [100 * PSI, 2697.598],
    [2 * PSI, 392.6813],
    [30 * CM, 355.678],
    [10 * INCH, 354.1391],
    [250, 346.495],
    [4 * INCH, 349.041],
  ])('%f Pa moves by %f Pa a kelvin', (gauge, want) => near(pressurePerKelvin(gauge), want));

  it.each([
    [1650, 300, 0.8540422],
    [4 * INCH, 0.8 * INCH, 0.5709104],
    [250, 125, 0.3607556],
    [30 * CM, 3 * CM, 0.8271513],
    [10 * INCH, 0.1 * INCH, 0.07033645],
    [2 * PSI, 0.1 * PSI, 1.755815],
    [100 * PSI, 3 * PSI, 7.667664],
    [100 * PSI, 2 * PSI, 5.111776],
  ])('at %f Pa a loss of %f Pa is %f K', (gauge, loss, want) => near(driftEqualToLoss(gauge, loss), want));

  it.each([
    ['suit 0 to 17.5 mbar', 0, 1750, 500],
    ['silo 0 to 250 Pa', 0, 250, 71.42857],
    ['circle 0 to 30 cmH2O', 0, 30 * CM, 8.571429 * CM],
    ['reservoir 85 to 100 psi', 85 * PSI, 100 * PSI, 4.285714 * PSI],
  ])('a fast fill sinks back: %s (first law, Moran & Shapiro)', (_, from, to, want) => near(settlingDrop(from, to), want));

  it('a fast draw comes back: 100 to 95 psi rises by 1.405904 psi', () => near(rewarmingRise(100 * PSI + P0, 95 * PSI + P0) / PSI, 1.405904));
});

describe('the equivalent hole (Shapiro; White; from memory)', () => {
  it.each([
    ['200 mL/min at 30 cmH2O', 0.2, 30 * CM, 0.3057824],
    ['4 psi/min of 90 L at 100 psi', 24.49655, 100 * PSI, 0.7182539],
    ['dry suit', 0.07895386, 1000, 0.2515335],
    ['suit, mean', 0.04934616, 1573.809, 0.1775586],
    ['silo, mean', 24.67308, 180.3369, 6.822395],
  ])('%s', (_, litresAMinute, gauge, millimetres) => near(equivalentHole(litresAMinute / 60_000, gauge) * 1000, millimetres));

  it.each([
    [0.1, 250, 0.006241179],
    [0.5, 1000, 0.3119764],
    [1, 1650, 1.602596],
    [0.3, 30 * CM, 0.1925075],
    [2, 2 * PSI, 18.45249],
    [1, 100 * PSI, 47.48418],
  ])('a hole of %f mm at %f Pa passes %f L/min', (d, gauge, want) => near(flowThroughHole(d / 1000, gauge) * 60_000, want));

  it('is choked below a pressure ratio of 0.5282818', () => {
    near(CRITICAL_RATIO, 0.5282818);
    near(P0 * (1 / CRITICAL_RATIO - 1), 90_476.05);
    near(massFlux(1, 0) / 0.65, 0.00236046);
    expect(() => massFlux(0)).toThrow(RangeError);
  });

  it('a choked leak empties a tank by e^(−kt)', () => {
    const k = chokedDecayConstant(0.405178e-6, 0.09);
    near(k * 60, 0.03487482);
    for (const [minutes, psi] of [[1, 96.06895], [5, 81.64666], [10, 66.23016]] as const) near(chokedLeak(100 * PSI, k, minutes * 60) / PSI, psi); // prettier-ignore
  });

  it('a capillary is no hole: 5 mL/min through 10 mm of 0.1198378 mm', () => near(capillaryThroughput(0.1198378e-3, 0.01, 30 * CM + P0) / P0, 5e-6 / 60, 1e-5));

  it.each([
    [7e5, 1e5, 0.5, 84],
    [2e5, 1.5e5, 0.3, 18.3837],
  ])('sonic conductance 0.2 dm³/(s·bar) from %f to %f Pa (ISO 6358, PHY-E7)', (up, down, b, want) =>
    near(sonicConductanceFlow(2e-9, b, up, down) * 60_000, want, 1e-5),
  );

  it('air at 20 °C weighs 1.204118 kg/m³', () => near(AIR_DENSITY, 1.204118));
});

describe('real air (Lemmon et al. 2000, from memory)', () => {
  it.each([
    [50, -20, 0.963737],
    [100, 0, 0.970369],
    [150, 10, 0.991069],
    [200, 15, 1.02122],
    [232, 20, 1.04754],
    [250, 30, 1.068858],
    [300, 15, 1.101052],
    [300, 40, 1.115302],
    [330, 50, 1.145128],
  ])('Z at %d bar and %d °C', (bar, celsius, want) => near(airZ(bar * 1e5, celsius + 273.15), want));

  it.each([
    [250, 100, 0.9411],
    [250, 200, 0.9713],
    [250, 300, 1.0702],
    [300, 100, 0.993],
    [300, 200, 1.0326],
    [300, 300, 1.1089],
  ])('keeps Perry’s table at %d K and %d bar within 0.0007', (kelvin, bar, want) => expect(Math.abs(airZ(bar * 1e5, kelvin) - want)).toBeLessThan(0.0007));

  it.each([
    [50, -20],
    [300, 15],
    [330, 50],
  ])('is the same by its density at %d bar and %d °C', (bar, celsius) => {
    const kelvin = celsius + 273.15;
    const z = airZ(bar * 1e5, kelvin);
    near(airZOfDensity((bar * 1e5) / (z * 8.31451 * kelvin), kelvin), z);
  });

  it.each([
    [6.8, 200, 1319.609, 32.82024, 31.13525],
    [6.8, 300, 1832.341, 45.63851, 43.95353],
    [9, 200, 1746.542, 43.43855, 41.20842],
    [12, 300, 3233.542, 80.53856, 77.56505],
  ])('%f L at %d bar holds %f L free', (litres, bar, free, toNothing, toTen) => {
    near(freeAir(litres / 1000, bar * 1e5) * 1000, free);
    near(endurance(litres / 1000, bar * 1e5, 0.04 / 60).seconds / 60, toNothing);
    near(endurance(litres / 1000, bar * 1e5, 0.04 / 60, 10e5).seconds / 60, toTen);
  });

  it('gives the trade’s shorthand beside it: 51 min to nothing, 41.65 to 55 bar (AIRV-E1)', () => {
    near(endurance(6.8e-3, 300e5, 0.04 / 60).shorthandSeconds / 60, 51);
    near(endurance(6.8e-3, 300e5, 0.04 / 60, 55e5).shorthandSeconds / 60, 41.65);
    near(minutesLost(10e-3 / 60, 40e-3 / 60, 600), 2.5);
    expect(() => endurance(6.8e-3, 300e5, 0)).toThrow(RangeError);
  });

  it.each([
    [200, 40, 225.3478],
    [200, -20, 164.2162],
    [300, 40, 341.1643],
    [300, -20, 241.8108],
  ])('%d bar at 15 °C stands at %d °C on', (bar, celsius, want) => near(pressureAt(bar * 1e5, 288.15, celsius + 273.15) / 1e5, want));

  it('is known from 0 to 40 MPa and 250 to 350 K, and says so', () => {
    expect(() => airZ(5e7, 300)).toThrow(RangeError);
    expect(() => airZOfDensity(-1, 300)).toThrow(RangeError);
    expect(() => airZOfDensity(20_000, 300)).toThrow(RangeError);
    expect(() => airZOfDensity(1000, 200)).toThrow(RangeError);
    expect(() => airZ(1e5, 200)).toThrow(RangeError);
    expect(airZ(0, 300)).toBe(1);
  });
});

describe('water and steel', () => {
  it.each([
    ['the printed example', 115.545, 232, 15, 1224.3145],
    ['50 L steel', 50.778, 300, 20, 677.8863],
    ['constructed', 12.3, 300, 20, 164.205],
  ])('C of %s (ISO 6406 annex, from memory)', (_, mass, bar, celsius, want) => near(waterCompression(mass, bar, celsius), want));

  it('reads the trade’s table, straight between its rows, and never beyond it', () => {
    expect(waterFactor(15)).toBe(0.04725);
    expect(waterFactor(6)).toBe(0.04915);
    near(waterFactor(15.5), 0.047175);
    expect(() => waterFactor(5.9)).toThrow(RangeError);
    expect(() => waterFactor(26.1)).toThrow(RangeError);
  });

  it.each([
    [15, 999.1026, 1.002],
    [20, 998.2067, 1.0029],
    [25, 997.047, 1.004],
    [30, 995.6488, 1.0054],
  ])('water at %f °C: %f kg/m³ (CIPM), %f mL each gram that is weighed in air (ISO 4787, from memory)', (celsius, density, each) => {
    near(waterDensity(celsius), density, 1e-6);
    expect(Math.abs(weighedWater(1, celsius) - each)).toBeLessThan(0.00006);
    // Another formula for the same water.
    near(waterDensity(celsius), pureWaterDensity(celsius), 2e-5);
    expect(() => waterDensity(-1)).toThrow(RangeError);
  });

  it('the rig’s own water is EOS-80 and lies 1.1 % below the table (Fofonoff & Millard, from memory)', () => {
    near(pureWaterDensity(5), 999.96675);
    near(waterGives(115.545, 232, 15) * 1e6, 1210.723, 1e-5);
  });

  it('a 12 L steel cylinder grows by 50.98771 cm³ at 300 bar (Lamé)', () => near(elasticShare(300e5, 1.06875) * 12_000, 50.98771));
});

describe('air brakes', () => {
  it.each([
    [0, 1],
    [50, 0.8636211],
    [85, 0.7824539],
    [100, 0.7495214],
    [125, 0.6964701],
  ])('the compressor’s efficiency at %d psi', (psi, want) => near(compressorEfficiency(psi * PSI), want));

  /** Time from one pressure to another by fourth-order Runge–Kutta on the compressor and a choked leak. */
  function builds(from: number, to: number, swept: number, leak = 0): number {
    const rise = (p: number): number => compressorRise(p, swept, 0.09) - leak * (p + P0);
    let p = from * PSI;
    let t = 0;
    const h = 0.01;
    for (;;) {
      const [a, b, c] = [rise(p), rise(p + (h / 2) * rise(p)), rise(p + (h / 2) * rise(p + (h / 2) * rise(p)))];
      const d = rise(p + h * c);
      const next = p + (h / 6) * (a + 2 * b + 2 * c + d);
      if (next >= to * PSI) return t + (h * (to * PSI - p)) / (next - p);
      p = next;
      t += h;
    }
  }
  const swept = 299.892 / 60_000;
  const leak = 2 / (100 + P0 / PSI) / 60;

  it.each([
    ['85 to 100', 85, 100, 1, 24],
    ['50 to 90', 50, 90, 1, 60.06991],
    ['50 to 90, faster', 50, 90, 1.46512, 41],
    ['0 to 60', 0, 60, 1, 80.47729],
    ['100 to 125', 100, 125, 1, 42.397],
    ['85 to 100, idling', 85, 100, 0.5, 48],
  ])('builds up %s', (_, from, to, speed, want) => near(builds(from, to, swept * speed), want, 2e-5));

  it.each([
    ['50 to 90, faster', 50, 90, 1.46512, 42.07284],
    ['85 to 100', 85, 100, 1, 25.26079],
    ['100 to 125', 100, 125, 1, 45.2425],
  ])('builds up %s against a leak', (_, from, to, speed, want) => near(builds(from, to, swept * speed, leak), want, 2e-5));

  it('runs through the whole test: leak, application, leak, pumping', () => {
    const vs = 3.236218e-3;
    const vd = 1e-3;
    let p = chokedLeak(125 * PSI, leak, 60);
    near(p / PSI, 122.5852);
    p = afterApplication(p, 0.09, vd, vs);
    near(p / PSI, 116.5699);
    p = chokedLeak(p, 3 / (100 + P0 / PSI) / 60, 60);
    near(p / PSI, 113.181);
    near(lossAtPressure(3.388891, 116.5699, 100), 2.961106);
    let simple = 120;
    for (let n = 1; n <= 14; n++) simple *= 0.95;
    near(simple, 58.521);
    let full = 120 * PSI;
    for (let n = 1; n <= 15; n++) full = afterApplication(full, 0.09, vd, vs);
    near(full / PSI, 54.59843);
  });

  it.each([
    [45, 0.375],
    [30, 0.75],
    [10, 1],
    [70, 0],
  ])('the spring brakes at %d psi', (psi, want) => expect(springBrakeShare(psi, 60, 20)).toBe(want));
});

describe('bags and ullage', () => {
  it.each([
    [4, 0.5, true],
    [22, 3, false],
    [7, 1, true],
    [70, 15, true],
  ])('%d kg breathes from %f L', (kg, bag, agree) => expect([bagSize(kg).byMass, bagSize(kg).agree]).toEqual([bag, agree]));
  it('shows both rules, and refuses no mass', () => {
    expect(bagSize(20)).toMatchObject({ tidalLow: 1, tidalHigh: 1.8 });
    expect(bagSize(400).byMass).toBe(30);
    expect(() => bagSize(0)).toThrow(RangeError);
  });

  it('adds manifolded tanks, and says which has too little room', () => {
    expect(ullageSum([{ capacityGal: 10_000, liquidGal: 6000 }, { capacityGal: 900, liquidGal: 700 }])).toEqual({ totalGal: 4200, tooLittle: [1], tooMuch: false }); // prettier-ignore
    expect(ullageSum([{ capacityGal: 40_000, liquidGal: 0 }]).tooMuch).toBe(true);
    expect(() => ullageSum([{ capacityGal: 10, liquidGal: 11 }])).toThrow(RangeError);
  });

  it.each([
    [10_000, 1000],
    [3000, 750],
  ])('a tank of %d gal needs %d gal of ullage (VR-E4)', (capacity, want) => expect(leastUllageTwoInch(capacity)).toBe(want));
  it('takes V/(1522·F) minutes to two inches', () => near(leastFillMinutes(10_000, 2), 3.2851511));
});
