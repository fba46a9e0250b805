import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { say } from './say.mjs';

/** What a process is, in the words of its command line; empty when there is none. */
function commandOf(pid) {
  try {
    if (existsSync('/proc/self')) return readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
    return execFileSync('ps', ['-p', String(pid), '-o', 'command='], { encoding: 'utf8' });
  } catch {
    return '';
  }
}

const gone = (pid) => commandOf(pid) === '';

/** The programs that a start has begun, by name, so that the next one finds what a killed start has left behind. */
export class Begun {
  #file;
  #pids = {};

  constructor(folder) {
    this.#file = join(folder, 'begun.json');
  }

  note(name, pid, program, signal) {
    if (pid === undefined) delete this.#pids[name];
    else this.#pids[name] = { pid, program, signal };
    // Whole or not at all: whoever reads it, or is killed here, finds no half of it.
    writeFileSync(`${this.#file}.new`, JSON.stringify(this.#pids));
    renameSync(`${this.#file}.new`, this.#file);
  }

  /** Ends what is left of an earlier start: only a process that is still what was noted. */
  async endOrphans() {
    if (!existsSync(this.#file)) return;
    let left = {};
    try {
      left = JSON.parse(readFileSync(this.#file, 'utf8'));
    } catch {
      // Cut off while it was written: nothing can be told from it.
    }
    rmSync(this.#file, { force: true });
    // The last that was begun first: the server before the database that it works on.
    for (const [name, { pid, program, signal: gently = 'SIGTERM' }] of Object.entries(left).reverse()) {
      if (!Number.isInteger(pid) || !commandOf(pid).includes(program)) continue;
      say(`ending ${name} of an earlier start (process ${pid})`);
      for (const [signal, patienceMs] of [
        [gently, 10_000],
        ['SIGKILL', 5000],
      ]) {
        try {
          process.kill(pid, signal);
        } catch {
          break;
        }
        for (const until = Date.now() + patienceMs; Date.now() < until && !gone(pid);) await new Promise((done) => setTimeout(done, 50));
        if (gone(pid)) break;
      }
    }
  }
}
