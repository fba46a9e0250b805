import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { buildWeb, webFolder } from './build.mjs';
import { ensurePackages } from './machine/packages.mjs';
import { root } from './machine/paths.mjs';
import { main, Stop } from './machine/say.mjs';

const usage = `Gathers every text that the screens show into the catalogue that a translator works from: web/locale/en.json.

  npm run texts              write it anew
  npm run texts -- --check   write nothing; exit 1 where it is not what the screens say
`;

const catalogue = join(root, 'web', 'locale', 'en.json');

/** The texts of the built application, by what they say: the order of its files changes with their contents. */
function gathered() {
  const folder = mkdtempSync(join(tmpdir(), 'grellin-texts-'));
  try {
    const file = join(folder, 'en.json');
    execFileSync('npx', ['--no-install', 'localize-extract', '-l', 'en', '-r', webFolder, '-s', '*.js', '-f', 'json', '-o', file, '--loglevel', 'error'], {
      cwd: join(root, 'web'),
      stdio: ['ignore', 'ignore', 'inherit'],
    });
    const { locale, translations } = JSON.parse(readFileSync(file, 'utf8'));
    const sorted = Object.entries(translations).sort(([a, x], [b, y]) => (x < y ? -1 : x > y ? 1 : a < b ? -1 : 1));
    if (sorted.length === 0) throw new Stop('The built application has no texts.');
    return `${JSON.stringify({ locale, translations: Object.fromEntries(sorted) }, null, 2)}\n`;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

await main(async () => {
  const args = process.argv.slice(2);
  if (args.includes('--help')) return void process.stdout.write(usage);
  if (args.some((a) => a !== '--check')) throw new Stop(usage);
  ensurePackages();
  buildWeb();
  const texts = gathered();
  if (args.includes('--check')) {
    if (!existsSync(catalogue) || readFileSync(catalogue, 'utf8') !== texts) throw new Stop('web/locale/en.json is not what the screens say: npm run texts');
    return;
  }
  mkdirSync(dirname(catalogue), { recursive: true });
  writeFileSync(catalogue, texts);
  process.stdout.write(`${Object.keys(JSON.parse(texts).translations).length} texts\n`);
});
