import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { has, run } from './command.mjs';
import { isRoot } from './paths.mjs';
import { say, Stop } from './say.mjs';

let updated = false;

/** Installs Debian packages without asking anything; says in one line what to install where that cannot be done here. */
function install(packages, what) {
  if (!isRoot || !has('apt-get')) throw new Stop(`${what} is missing. Install it first: apt-get install ${packages.join(' ')}`);
  say(`installing ${what} from Debian's packages`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const options = { env, stdio: ['ignore', 'ignore', 'inherit'] };
  if (!updated) run('apt-get', ['update', '-qq'], options);
  updated = true;
  run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], options);
}

function postgresFolder() {
  const base = '/usr/lib/postgresql';
  const versions = existsSync(base) ? readdirSync(base).filter((v) => existsSync(`${base}/${v}/bin/initdb`)) : [];
  const newest = versions.sort((a, b) => Number(a) - Number(b)).at(-1);
  return newest === undefined ? null : `${base}/${newest}/bin`;
}

/** The folder of PostgreSQL's programs; installs them when they are missing. Debian's own main cluster is not created: Grellin keeps its own. */
export function ensurePostgres() {
  const found = postgresFolder();
  if (found) return found;
  install(['postgresql-common'], 'PostgreSQL');
  const defaults = '/etc/postgresql-common/createcluster.conf';
  if (existsSync(defaults)) writeFileSync(defaults, readFileSync(defaults, 'utf8').replace(/^#?\s*create_main_cluster\s*=.*$/m, 'create_main_cluster = false'));
  install(['postgresql'], 'PostgreSQL');
  const installed = postgresFolder();
  if (!installed) throw new Stop('PostgreSQL was installed, but its programs are not in /usr/lib/postgresql.');
  return installed;
}

/** The browser for the tests. */
export function ensureChromium() {
  if (!existsSync('/usr/bin/chromium')) install(['chromium'], 'Chromium');
  return '/usr/bin/chromium';
}

/** Poppler's tools, with which the tests look into the certificates. */
export function ensurePoppler() {
  if (!has('pdftotext')) install(['poppler-utils'], 'poppler-utils');
}
