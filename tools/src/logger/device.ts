import { randomBytes } from 'node:crypto';
import type { DataLine, Hello, Scene } from '@grellin/contract';
import { deviceSetups, type DeviceSetup, rigFor } from '@grellin/core/practice';
import { rigById, type AnyRig, type Logger, type RigAction } from '@grellin/core/rig';

/** How much a device remembers for a reader that was away: two hours of slow lines, ten minutes of the fastest. */
const KEPT_MS = 7_200_000;
const KEPT_LINES = 120_000;
const TICK_MS = 100;
/** The least that the clock moves by, and how much of a tick one device may take of this thread. */
const PIECE_MS = 50;
const TICK_BUSY_MS = 12;
/** So many ticks behind it has fallen behind. */
const MOST_BEHIND_TICKS = 3;
/** A stretch of simulated time that is worked out at once, and the longest that nobody else is answered meanwhile. */
const SLICE_MS = 2000;
const BUSY_MS = 20;

/** A kind of device: the rig that stands behind it, and what it shows. */
export interface DeviceKind extends DeviceSetup {
  readonly rig: string;
}

/** Device names tell their kind by their first letters. */
export const deviceKinds: readonly DeviceKind[] = deviceSetups.map((setup) => ({ ...setup, rig: rigFor(setup.procedure) ?? '' }));

/** One simulated instrument with the rig it is joined to: a clock with two gears, a memory, and whoever is listening. */
export class Device {
  private logger: Logger;
  private readonly rig: AnyRig;
  /** Inputs that send lines; the others are read by eye. */
  private readonly sent: ReadonlySet<string>;
  /** Where the present rig's clock began on the device's own, so that a reset never turns the clock back. */
  private base = 0;
  private speed = 1;
  private kept: DataLine[] = [];
  private lastValues: Readonly<Record<string, number>> = {};
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
    this.sent = new Set(Object.values(kind.sent).map((s) => s.input));
    this.logger = rig.logger('none', kind.sensors, this.seed);
    this.timer = setInterval(() => this.tick(), TICK_MS);
  }

  hello(): Hello {
    const inputs = Object.fromEntries(Object.entries(this.kind.sensors).flatMap(([name, s]) => (this.sent.has(name) ? [[name, s.unit]] : [])));
    return { device: this.name, boot: this.boot, clockMs: this.clock(), everyMs: this.rig.everyMs, inputs };
  }

  private clock(): number {
    return this.base + this.logger.at;
  }

  private tick(): void {
    const now = performance.now();
    // The time that really passed, whatever the timer did; part steps are carried over.
    this.carried += (now - this.lastTick) * this.speed;
    this.lastTick = now;
    const until = now + TICK_BUSY_MS;
    // A piece at a time, and no more than its share of this thread: the other devices, and whoever asks, are answered meanwhile.
    while (this.carried >= PIECE_MS) {
      this.advance(PIECE_MS);
      this.carried -= PIECE_MS;
      if (performance.now() > until) break;
    }
    // What it cannot catch up with is let go: its clock then runs slower than it was asked to, and no reading is left out.
    this.behind = this.carried > MOST_BEHIND_TICKS * TICK_MS * Math.max(1, this.speed);
    if (this.behind) this.carried = 0;
  }

  private behind = false;

  private advance(ms: number): void {
    const [logger, lines] = this.logger.advance(ms);
    this.logger = logger;
    for (const line of lines) {
      const values = Object.fromEntries(Object.entries(line.values).filter(([input]) => this.sent.has(input)));
      const data = { at: this.base + line.at, values };
      this.lastValues = line.values;
      this.kept.push(data);
      for (const listener of this.listeners) listener(data);
    }
    const most = Math.min(KEPT_LINES, KEPT_MS / this.rig.everyMs);
    if (this.kept.length > most * 1.2) this.kept = this.kept.slice(-most);
  }

  /**
   * A cold rig with a fault. The old one's line that is under way is finished first, so that no line is left out and the clock goes on.
   * @param seed what the noise starts from; without it, other noise than the last time
   */
  reset(fault: string, seed = this.seed + 1): boolean {
    if (!this.rig.faults.includes(fault)) return false;
    const part = this.clock() % this.rig.everyMs;
    if (part > 0) this.advance(this.rig.everyMs - part);
    this.base = this.clock();
    this.seed = seed | 0;
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

  async step(seconds: number): Promise<number> {
    await this.inSlices(seconds * 1000, () => false);
    return this.clock();
  }

  /**
   * Lets time pass until something happens, every line of it emitted.
   * @returns whether it happened within the seconds given
   */
  until(event: string, seconds: number): Promise<boolean> {
    return this.inSlices(seconds * 1000, () => this.logger.happening.has(event), this.rig.everyMs);
  }

  /** A long stretch of time is worked out a slice at a time, so that the other devices go on answering. */
  private async inSlices(ms: number, done: () => boolean, sliceMs = SLICE_MS): Promise<boolean> {
    let last = performance.now();
    for (let left = ms; left > 0 && !done(); left -= sliceMs) {
      this.advance(Math.min(left, sliceMs));
      if (performance.now() - last < BUSY_MS) continue;
      await new Promise((go) => setImmediate(go));
      last = performance.now();
    }
    return done();
  }

  /** What somebody who stands by it sees and hears now. */
  scene(): Scene {
    if (Object.keys(this.lastValues).length === 0) this.advance(this.rig.everyMs);
    const { signs, happening } = this.logger;
    const seen = Object.entries(this.kind.sensors).filter(([input]) => !this.sent.has(input));
    return {
      clockMs: this.clock(),
      speed: this.speed,
      behind: this.behind,
      happening: [...happening],
      wrong: [...signs.wrong],
      bubbles: signs.bubbles,
      seen: Object.fromEntries(seen.flatMap(([input, s]) => (input in this.lastValues ? [[input, { value: this.lastValues[input] ?? 0, unit: s.unit }]] : []))),
    };
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
