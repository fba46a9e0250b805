const started = Date.now();

/** One line of progress, with the seconds since the command began. */
export function say(text) {
  const seconds = ((Date.now() - started) / 1000).toFixed(0).padStart(4);
  process.stdout.write(`${seconds} s  ${text}\n`);
}

/** A reason to stop that the person can do something about. */
export class Stop extends Error {}

/** Runs a command's main function; a `Stop` is said in one line, anything else with its trace. */
export async function main(run) {
  try {
    await run();
  } catch (error) {
    process.stderr.write(error instanceof Stop ? `\n${error.message}\n` : `${error?.stack ?? error}\n`);
    process.exitCode = 1;
  }
}
