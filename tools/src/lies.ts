import { parseArgs } from 'node:util';
import { walkOf } from '@grellin/core/practice';

const HELP = `npm run lies -- [--walks 1000] [--seed 1] [--lazy 0]

Carries faulty items through their tests by a hand that says yes to everything at the earliest moment, takes back, repeats and breaks off, and in every other walk types
what it reads as suits it, within a step of its gauge. It says every walk that came to a pass where a
gauge could have told, and every one that left the item usable; then it exits with 1.

  --walks N   how many walks
  --seed N    where chance begins; it is told, so that a walk can be taken again
  --lazy P    how often a step is said to be done and is not, 0 to 1`;

const { values } = parseArgs({
  options: {
    walks: { type: 'string', default: '1000' },
    seed: { type: 'string', default: '1' },
    lazy: { type: 'string', default: '0' },
    help: { type: 'boolean', default: false },
  },
});
const [walks, seed, lazy] = [Number(values.walks), Number(values.seed), Number(values.lazy)];
if (values.help || !Number.isInteger(walks) || !Number.isInteger(seed) || !(lazy >= 0 && lazy <= 1)) {
  console.log(HELP);
  process.exit(values.help ? 0 : 2);
}
let escaped = 0;
for (let walk = seed; walk < seed + walks; walk++) {
  const { item, typed, result, escaped: passed } = walkOf(walk, lazy);
  if (!passed) continue;
  escaped += 1;
  console.log(`seed ${String(walk)}${typed ? ', typed' : ''}: ${item.procedure}, ${item.ruleSet}, ${item.fault}: ${result.verdict}`);
}
console.log(`${String(walks)} walks from seed ${String(seed)}: ${String(escaped)} escaped`);
process.exit(escaped === 0 ? 0 : 1);
