import { ensurePackages } from './machine/packages.mjs';
import { runPrivately } from './machine/privately.mjs';

ensurePackages();
process.exitCode = await runPrivately('fuzz', process.argv.slice(2));
