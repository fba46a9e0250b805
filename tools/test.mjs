import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, chmodSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { end, startUntil } from './machine/command.mjs';
import { ensureChromium, ensurePoppler, ensurePostgres } from './machine/debian.mjs';
import { ensurePackages } from './machine/packages.mjs';
import { root } from './machine/paths.mjs';
import { main, say, Stop } from './machine/say.mjs';

const usage = `Runs every test: types, lint, import directions, Vitest, the Angular components, the catalogue of texts, then the browser
against the started product.

  npm test                     everything
  npm test -- --only NAME,…    of: types, lint, imports, vitest, web, texts, browser
`;

const steps = ['types', 'lint', 'imports', 'vitest', 'web', 'texts', 'browser'];
const folder = join(root, 'e2e', 'results');
const counted = { passed: 0, failed: 0 };
/** Every test that a report tells of, with how long it took. */
const took = [];
/** How long each part took, s. */
const parts = [];
async function part(name, carryOut) {
  say(name);
  const began = performance.now();
  const done = await carryOut();
  parts.push({ name, seconds: (performance.now() - began) / 1000 });
  return done;
}
/** What was tried twice. */
const again = [];
const SLOWEST = 10;

/** Runs a command with its output shown. */
function shown(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('exit', (code) => resolve(code === 0));
  });
}

function count(ok) {
  counted[ok ? 'passed' : 'failed'] += 1;
}

/** Adds a runner's own report; a runner that wrote none has failed as a whole. */
function countReport(file, ok, read) {
  if (!existsSync(file)) return count(false);
  const { passed, failed, times, again: tried = [] } = read(JSON.parse(readFileSync(file, 'utf8')));
  again.push(...tried);
  took.push(...times);
  counted.passed += passed;
  counted.failed += failed;
  // A runner can fail with every test passed: a set-up that broke, a worker that died.
  if (!ok && failed === 0) counted.failed += 1;
  if (ok && passed === 0) counted.failed += 1;
}

const fromVitest = (r) => ({
  passed: r.numPassedTests,
  failed: r.numFailedTests,
  times: r.testResults.flatMap((file) => file.assertionResults.map((t) => ({ name: t.fullName, ms: t.duration ?? 0 }))),
});
const specsOf = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specsOf)];
/** Whether a try came to nothing because something did not come in time. Something that came and was wrong is no matter of patience. */
const ranOutOfPatience = ({ message = '' }) => /timeout/i.test(message) && !/Received( string)?:\s*["\d]/.test(plain(message));
// The colours of a terminal stand within the words.
// eslint-disable-next-line no-control-regex
const plain = (text) => text.replace(/\u001b\[[0-9;]*m/g, '');
/** Tests that came right when they were tried again, with what their first tries came to. */
const triedAgain = (r) =>
  r.suites
    .flatMap(specsOf)
    .flatMap((s) => s.tests.filter((t) => t.status === 'flaky').map((t) => ({ name: s.title, errors: t.results.flatMap((one) => one.errors ?? []) })));
/** Those of them whose first try saw something wrong: they have failed, whatever came after. */
const wrongAtFirst = (r) => triedAgain(r).filter(({ errors }) => !errors.every(ranOutOfPatience));
const fromPlaywright = (r) => ({
  passed: r.stats.expected + r.stats.flaky - wrongAtFirst(r).length,
  failed: r.stats.unexpected + wrongAtFirst(r).length,
  again: triedAgain(r),
  times: r.suites.flatMap(specsOf).map((s) => ({ name: s.title, ms: s.tests.flatMap((t) => t.results).reduce((sum, one) => sum + one.duration, 0) })),
});

async function browser() {
  const data = mkdtempSync(join(tmpdir(), 'grellin-e2e-'));
  chmodSync(data, 0o755); // the user postgres must enter it
  const env = { ...process.env, PORT: '0', GRELLIN_DATA: join(data, 'data'), GRELLIN_TEST: '1' };
  delete env.DATABASE_URL;
  say('starting the product');
  const product = await startUntil(process.execPath, ['tools/start.mjs'], /Grellin\s+(http:\S+)/, { cwd: root, env });
  try {
    const report = join(folder, 'report.json');
    rmSync(report, { force: true });
    const ok = await shown('npx', ['--no-install', 'playwright', 'test'], { env: { ...env, BASE_URL: product.line[1] } });
    countReport(report, ok, fromPlaywright);
  } finally {
    await end(product.child, 'SIGINT', 30_000);
    rmSync(data, { recursive: true, force: true });
  }
}

/** A number that another commit changes: it chooses what is carried out where not everything is. */
function turnOfCommit() {
  const found = spawnSync('git', ['rev-parse', '--short=6', 'HEAD'], { cwd: root, encoding: 'utf8' });
  return found.status === 0 ? parseInt(found.stdout, 16) : 0;
}

await main(async () => {
  const args = process.argv.slice(2);
  if (args.includes('--help')) return void process.stdout.write(usage);
  const at = args.indexOf('--only');
  const wanted = at < 0 ? steps : (args[at + 1] ?? '').split(',');
  const stranger = wanted.find((w) => !steps.includes(w));
  if (stranger !== undefined || (at < 0 && args.length > 0)) throw new Stop(usage);
  ensurePackages();
  ensurePostgres();
  if (wanted.includes('browser')) {
    ensureChromium();
    ensurePoppler();
  }
  mkdirSync(folder, { recursive: true });
  process.env['TEST_TURN'] ??= String(turnOfCommit());

  // Each of them keeps one processor busy: in two rows side by side they take as long as the longer one.
  const cruise = ['--no-install', 'depcruise', 'core/src', 'contract/src', 'server/src', 'web/src', 'tools/src', 'e2e'];
  const alone = {
    lint: () => shown('npx', ['--no-install', 'eslint', '.']),
    // The product is built before the browser runs, with the same checks of the web: once is enough.
    types: () => shown('npm', ['run', '--silent', wanted.includes('browser') ? 'types:node' : 'types']),
    imports: () => shown('npx', cruise),
    texts: () => shown(process.execPath, ['tools/texts.mjs', '--check']),
  };
  const row = async (names) => {
    for (const name of names.filter((n) => wanted.includes(n))) count(await part(name, alone[name]));
  };
  await Promise.all([row(['lint']), row(['types', 'imports', 'texts'])]);
  if (wanted.includes('vitest')) {
    const report = join(folder, 'vitest.json');
    rmSync(report, { force: true });
    const args = ['--no-install', 'vitest', 'run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
    const ok = await part('core, contract, server, tools', () => shown('npx', args));
    countReport(report, ok, fromVitest);
  }
  if (wanted.includes('web')) {
    const report = join(folder, 'web.json');
    rmSync(report, { force: true });
    const options = { cwd: join(root, 'web'), env: { ...process.env, NG_CLI_ANALYTICS: 'false' } };
    const ok = await part('components', () => shown('npx', ['--no-install', 'ng', 'test', '--no-watch'], options));
    countReport(report, ok, fromVitest);
  }
  if (wanted.includes('browser')) await part('browser', browser);

  for (const { name, errors } of again)
    process.stdout.write(
      `tried again: ${name}\n  ${plain(errors[0]?.message ?? '')
        .split('\n')
        .slice(0, 4)
        .join('\n  ')}\n`,
    );
  say('how long each part took');
  for (const { name, seconds } of parts) process.stdout.write(`${seconds.toFixed(0).padStart(7)} s  ${name}\n`);
  say('the slowest tests');
  for (const { name, ms } of took.sort((a, b) => b.ms - a.ms).slice(0, SLOWEST)) process.stdout.write(`${(ms / 1000).toFixed(1).padStart(7)} s  ${name}\n`);
  say('done');
  process.stdout.write(`${counted.passed} passed, ${counted.failed} failed\n`);
  if (counted.failed > 0) process.exitCode = 1;
});
