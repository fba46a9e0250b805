import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { run } from './machine/command.mjs';
import { root } from './machine/paths.mjs';
import { say } from './machine/say.mjs';

/** Names, sizes and contents of all that the web application is made from. */
function sourcesHash() {
  const hash = createHash('sha256');
  const walk = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) walk(path);
      else hash.update(path.slice(root.length)).update(readFileSync(path));
    }
  };
  for (const folder of ['core/src', 'contract/src', 'web/src', 'web/public']) if (existsSync(join(root, folder))) walk(join(root, folder));
  for (const file of ['package-lock.json', 'web/angular.json', 'web/tsconfig.json', 'tsconfig.base.json']) hash.update(readFileSync(join(root, file)));
  return hash.digest('hex');
}

export const webFolder = join(root, 'web', 'dist', 'web', 'browser');

/** Names of the files that an output imports without waiting, and those that these import, by esbuild's own account. */
function importedBy(outputs, name, found = new Set()) {
  for (const { path, kind } of outputs[name]?.imports ?? [])
    if (kind === 'import-statement' && !found.has(path)) {
      found.add(path);
      importedBy(outputs, path, found);
    }
  return found;
}

/**
 * Lets the page ask for every file of its beginning at once. Angular's own list ends after ten, and the largest comes last: a phone would wait for it alone.
 * The listing of the service worker is made anew, because it holds the page's digest.
 */
function preloadAll() {
  const page = join(webFolder, 'index.html');
  const { outputs } = JSON.parse(readFileSync(join(webFolder, '..', 'stats.json'), 'utf8'));
  const main = Object.keys(outputs).find((name) => /^main-[^/]*\.js$/.test(name));
  const wanted = [...importedBy(outputs, main)].sort((a, b) => outputs[b].bytes - outputs[a].bytes);
  const html = readFileSync(page, 'utf8').replace(/<link rel="modulepreload"[^>]*>/g, '');
  writeFileSync(page, html.replace('</head>', `${wanted.map((name) => `<link rel="modulepreload" href="${name}">`).join('')}</head>`));
  run('npx', ['--no-install', 'ngsw-config', 'dist/web/browser', 'ngsw-config.json', '/'], { cwd: join(root, 'web'), stdio: ['ignore', 'ignore', 'inherit'] });
}

/** Builds the web application when its sources have changed since. */
export function buildWeb() {
  const stamp = join(root, 'web', 'dist', '.sources');
  const wanted = sourcesHash();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted && existsSync(join(webFolder, 'index.html'))) return;
  say('building the web application');
  run('npx', ['--no-install', 'ng', 'build'], {
    cwd: join(root, 'web'),
    env: { ...process.env, NG_CLI_ANALYTICS: 'false', CI: 'true' },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  preloadAll();
  mkdirSync(join(root, 'web', 'dist'), { recursive: true });
  writeFileSync(stamp, wanted);
}

export const distFolder = join(root, 'dist');

/** Bundles the server and the tools that run beside it: our own sources in, packages left outside. Takes a fraction of a second. */
export async function buildPrograms() {
  const { build } = await import('esbuild');
  const { outputFiles } = await build({
    entryPoints: {
      server: join(root, 'server/src/main.ts'),
      logger: join(root, 'tools/src/logger/main.ts'),
      prepare: join(root, 'tools/src/prepare.ts'),
      judge: join(root, 'tools/src/judge.ts'),
      bench: join(root, 'tools/src/bench/main.ts'),
      account: join(root, 'tools/src/account.ts'),
      faults: join(root, 'tools/src/faults/main.ts'),
      fuzz: join(root, 'tools/src/fuzz/main.ts'),
      verify: join(root, 'tools/src/verify/main.ts'),
      papers: join(root, 'server/src/paper/worker.ts'),
    },
    outdir: distFolder,
    write: false,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    outExtension: { '.js': '.mjs' },
    sourcemap: true,
    logLevel: 'warning',
    plugins: [
      {
        name: 'packages stay outside',
        setup(b) {
          b.onResolve({ filter: /^[^./]/ }, (a) => (a.kind === 'entry-point' || a.path.startsWith('@grellin/') ? undefined : { path: a.path, external: true }));
        },
      },
    ],
  });
  mkdirSync(distFolder, { recursive: true });
  for (const { path, contents } of outputFiles) replace(path, contents);
}

/** Puts a file where it belongs, whole or not at all, and only where it has changed: another command may be starting the program that it is. An empty program ends at once, and well. */
function replace(path, contents) {
  if (existsSync(path) && readFileSync(path).equals(contents)) return;
  const fresh = `${path}.${String(process.pid)}`;
  writeFileSync(fresh, contents);
  renameSync(fresh, path);
}
