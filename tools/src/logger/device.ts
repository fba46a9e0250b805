import { randomBytes } from 'node:crypto';
import type { DataLine, Hello } from '@grellin/contract';
import { LINE_MS, rigById, type AnyRig, type Logger, type RigAction, type Sensors } from '@grellin/core/rig';

/** How much a device remembers for a reader that was away: two hours of lines. */
const KEPT_LINES = 14_400;
const TICK_MS = 100;

/** A kind of device: which rig stands behind it and what it shows. */
export interface DeviceKind {
  readonly prefix: string;
  readonly rig: string;
  readonly sensors: Sensors;
}

/** Device names tell their kind by their first letters. */
export const deviceKinds: readonly DeviceKind[] = [
  { prefix: 'PL', rig: 'suit', sensors: { p1: { unit: 'mbar', resolution: 0.01, noise: 0.008, zero: 0.02 } } },
  {
    prefix: 'BP',
    rig: 'air-brakes',
    sensors: { p1: { unit: '[psi]', resolution: 0.1, noise: 0.04, zero: 0.1 }, p2: { unit: '[psi]', resolution: 0.1, noise: 0.04, zero: -0.1 } },
  },
];

/** One simulated instrument with the rig it is joined to: a clock with two gears, a memory, and whoever is listening. */
export class Device {
  private logger: Logger;
  private readonly rig: AnyRig;
  /** Where the present rig's clock began on the device's own, so that a reset never turns the clock back. */
  private base = 0;
  private speed = 1;
  private kept: DataLine[] = [];
  private readonly listeners = new Set<(line: DataLine) => void>();
  private readonly boot = randomBytes(6).toString('hex');
  private lastTick = performance.now();
  private carried = 0;
  private seed: number;
  private readonly timer: NodeJS.Timeout;

  constructor(
    readonly name: string,
    private readonly kind: DeviceKind,
  ) {
    const rig = rigById(kind.rig);
    if (!rig) throw new Error(`there is no rig ${kind.rig}`);
    this.rig = rig;
    this.seed = Buffer.from(name).reduce((h, byte) => (Math.imul(h, 31) + byte) | 0, 7);
    this.logger = rig.logger('none', kind.sensors, this.seed);
    this.timer = setInterval(() => this.tick(), TICK_MS);
  }

  hello(): Hello {
    const inputs = Object.fromEntries(Object.entries(this.kind.sensors).map(([name, s]) => [name, s.unit]));
    return { device: this.name, boot: this.boot, clockMs: this.clock(), everyMs: LINE_MS, inputs };
  }

  private clock(): number {
    return this.base + this.logger.at;
  }

  private tick(): void {
    const now = performance.now();
    // The time that really passed, whatever the timer did; part steps are carried over.
    this.carried += (now - this.lastTick) * this.speed;
    this.lastTick = now;
    const whole = Math.floor(this.carried / 50) * 50;
    this.carried -= whole;
    if (whole > 0) this.advance(whole);
  }

  private advance(ms: number): void {
    const [logger, lines] = this.logger.advance(ms);
    this.logger = logger;
    for (const line of lines) {
      const data = { at: this.base + line.at, values: line.values };
      this.kept.push(data);
      for (const listener of this.listeners) listener(data);
    }
    if (this.kept.length > KEPT_LINES * 1.2) this.kept = this.kept.slice(-KEPT_LINES);
  }

  /** A cold rig with a fault. The old one's line that is under way is finished first, so that no line is left out and the clock goes on. */
  reset(fault: string): boolean {
    if (!this.rig.faults.includes(fault)) return false;
    const part = this.clock() % LINE_MS;
    if (part > 0) this.advance(LINE_MS - part);
    this.base = this.clock();
    this.seed = (this.seed + 1) | 0;
    this.logger = this.rig.logger(fault, this.kind.sensors, this.seed);
    return true;
  }

  hand(action: RigAction): boolean {
    if (!this.rig.actions.some((a) => a.act === action.act)) return false;
    this.logger = this.logger.act(action);
    return true;
  }

  /** Times real time; 0 stands still until it is stepped. */
  free(speed: number): void {
    this.tick();
    this.speed = speed;
  }

  step(seconds: number): number {
    this.advance(seconds * 1000);
    return this.clock();
  }

  /** @returns what ends the listening */
  from(at: number, listener: (line: DataLine) => void): () => void {
    for (const line of this.kept) if (line.at >= at) listener(line);
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  end(): void {
    clearInterval(this.timer);
  }
}
