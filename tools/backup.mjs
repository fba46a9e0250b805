import { statSync } from 'node:fs';
import { resolve } from 'node:path';
import { dump } from './machine/dump.mjs';
import { ownerAccess } from './machine/embedded.mjs';
import { root } from './machine/paths.mjs';
import { main, say, Stop } from './machine/say.mjs';

const usage = `Writes everything that the database holds to a file, with its grants, while the program goes on.

  npm run backup -- FILE                      the database of this checkout
  DATABASE_URL=… npm run backup -- FILE       another; OWNER_DATABASE_URL where its owner signs in otherwise

Restore it with npm run restore -- FILE. Keep the file of anchors (anchors.jsonl) somewhere else: it is what proves the backup.
`;

await main(async () => {
  const [file, ...more] = process.argv.slice(2);
  if (file === '--help') return void process.stdout.write(usage);
  if (file === undefined || more.length > 0) throw new Stop(usage);
  const to = resolve(process.env.INIT_CWD ?? root, file);
  const access = await ownerAccess();
  try {
    dump(access.url, to);
  } finally {
    access.stop();
  }
  say(`${to}, ${(statSync(to).size / 1e6).toFixed(1)} MB`);
});
