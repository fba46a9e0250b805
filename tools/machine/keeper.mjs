import { end } from './command.mjs';
import { say, Stop } from './say.mjs';

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 16_000;
/** Ends by itself this many times in a row, each soon after it was started: then it is given up. */
const MOST_ENDS = 6;
/** Who has run for so long has recovered. */
const WELL_MS = 10_000;

/** Keeps one program running: starts it again, with a growing pause, whenever it ends by itself. */
export class Keeper {
  #child = null;
  #stopping = false;
  #ends = 0;
  #startedAt = 0;
  #timer;
  #wake = () => undefined;

  /**
   * @param {string} name as it is told to the person
   * @param {(first: boolean) => Promise<{ child: import('node:child_process').ChildProcess }>} launch starts it and waits until it is ready
   * @param {{ signal?: NodeJS.Signals, patienceMs?: number, onPid?: (pid: number | undefined) => void, onGivenUp: (why: Stop) => void }} options
   */
  constructor(name, launch, { signal = 'SIGTERM', patienceMs = 15_000, onPid = () => undefined, onGivenUp }) {
    Object.assign(this, { name, launch, signal, patienceMs, onPid, onGivenUp });
  }

  /** Starts it for the first time; what hinders it then is thrown. */
  async start() {
    await this.#launchOnce(true);
  }

  async #launchOnce(first) {
    const { child } = await this.launch(first);
    this.#child = child;
    this.#startedAt = Date.now();
    this.onPid(child.pid);
    if (this.#stopping) return void (await end(child, this.signal, this.patienceMs));
    const ended = (code, signal) => void this.#ended(code ?? signal);
    if (child.exitCode !== null || child.signalCode !== null) ended(child.exitCode, child.signalCode);
    else child.once('exit', ended);
  }

  async #ended(how) {
    if (this.#stopping) return;
    if (Date.now() - this.#startedAt > WELL_MS) this.#ends = 0;
    for (;;) {
      this.#ends++;
      if (this.#ends > MOST_ENDS) return this.onGivenUp(new Stop(`${this.name} keeps ending by itself (${how}): Grellin gives up.`));
      const pauseMs = Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (this.#ends - 1));
      say(`${this.name} ended by itself (${how}); starting it again in ${(pauseMs / 1000).toFixed(1)} s`);
      await new Promise((resolve) => {
        this.#wake = resolve;
        this.#timer = setTimeout(resolve, pauseMs);
      });
      if (this.#stopping) return;
      try {
        await this.#launchOnce(false);
        say(`${this.name}: running again`);
        return;
      } catch (error) {
        how = String(error?.message ?? error).split('\n')[0];
      }
    }
  }

  /** Ends it for good. */
  async stop() {
    this.#stopping = true;
    clearTimeout(this.#timer);
    this.#wake();
    if (this.#child) await end(this.#child, this.signal, this.patienceMs);
    this.onPid(undefined);
  }
}
