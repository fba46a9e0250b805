import { createInterface } from 'node:readline/promises';
import { Malformed, newAccountSchema, parse } from '@grellin/contract';
import { addDays } from '@grellin/core';
import { authoriseForAll, connect, createAccount, Moment, readStation, requireUncommon } from '@grellin/server';

const usage = `Makes an account in the database named by DATABASE_URL; for the first officer of a new installation.

  DATABASE_URL=… npm run account -- NAME "FULL NAME" officer|tester|reader

The password is read from GRELLIN_PASSWORD, or else from one line of standard input; at least 12 characters.
`;

async function passwordGiven(): Promise<string> {
  const given = process.env['GRELLIN_PASSWORD'];
  if (given !== undefined) return given;
  const lines = createInterface({ input: process.stdin });
  if (process.stdin.isTTY) process.stderr.write('Password: ');
  for await (const line of lines) return line;
  return '';
}

async function make(): Promise<number> {
  const [name, fullName, role] = process.argv.slice(2);
  const url = process.env['DATABASE_URL'];
  if (!name || !fullName || !role || !url) {
    process.stderr.write(usage);
    return 2;
  }
  const connection = connect(url);
  try {
    const now = new Moment(new Date(), (await readStation(connection.db)).zone);
    const given = parse(newAccountSchema, { name, fullName, role, password: await passwordGiven() });
    requireUncommon(given.password, [given.name, given.fullName]);
    const made = await createAccount(connection.db, given, false, now);
    // Somebody has to be the first who may authorise others, and test.
    if (made.role === 'officer') await authoriseForAll(connection.db, made.id, addDays(now.day, 365), made.name.toUpperCase(), made.id, now);
    process.stdout.write(`${made.role} ${made.name} can sign in.\n`);
    return 0;
  } catch (error) {
    const lines = error instanceof Malformed ? error.flaws.map((f) => `${f.path}: ${f.message}`) : [error instanceof Error ? error.message : String(error)];
    for (const line of lines) process.stderr.write(`${line}\n`);
    return 2;
  } finally {
    await connection.close();
  }
}

if (process.argv.includes('--help')) process.stdout.write(usage);
else process.exitCode = await make();
