import { spawn, spawnSync } from 'node:child_process';

/** Runs a command to its end and gives what it printed; throws with its output when it fails. */
export function run(command, args, options = {}) {
  const done = spawnSync(command, args, { encoding: 'utf8', maxBuffer: 64 << 20, ...options });
  if (done.error) throw done.error;
  if (done.status !== 0) throw new Error(`${command} ${args.join(' ')} failed (${done.status ?? done.signal}):\n${done.stdout ?? ''}${done.stderr ?? ''}`);
  return done.stdout ?? '';
}

/** Whether a command can be found. */
export function has(command) {
  return spawnSync('sh', ['-c', `command -v ${command}`], { stdio: 'ignore' }).status === 0;
}

/** How long the last words of a program that has ended are waited for. */
const LAST_WORDS_MS = 2000;

/**
 * Starts a program that stays and waits until it prints a line that matches.
 * @returns {Promise<{ child: import('node:child_process').ChildProcess, line: RegExpExecArray }>}
 */
export function startUntil(command, args, pattern, options = {}) {
  // A group of its own: Ctrl-C goes to the start command, which ends everything in its own order.
  const child = spawn(command, args, { stdio: ['ignore', 'pipe', 'pipe'], detached: true, ...options });
  return new Promise((resolve, reject) => {
    let said = '';
    let found = false;
    const hear = (data) => {
      const text = String(data);
      if (found) return void process.stdout.write(text);
      said += text;
      const line = pattern.exec(said);
      if (line) {
        found = true;
        resolve({ child, line });
      }
    };
    child.stdout.on('data', hear);
    child.stderr.on('data', (data) => (found ? process.stderr.write(data) : hear(data)));
    child.on('error', reject);
    child.on('exit', (code) => {
      const ended = () => reject(new Error(`${command} ${args.join(' ')} ended (${code}) before it was ready:\n${said}`));
      // One that says its line and ends can be seen ending before the line is read; what it started may hold its output open.
      child.once('close', ended);
      setTimeout(ended, LAST_WORDS_MS).unref();
    });
  });
}

/** Ends a program that was started here, by its id, and waits until it has ended. */
export function end(child, signal = 'SIGTERM', patienceMs = 10_000) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const hard = setTimeout(() => child.kill('SIGKILL'), patienceMs);
    child.once('exit', () => {
      clearTimeout(hard);
      resolve();
    });
    child.kill(signal);
  });
}
