import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';

const root = fileURLToPath(new URL('../..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'grellin-commands-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function run(script: string, args: readonly string[], more: { input?: string; env?: Record<string, string> } = {}) {
  const done = spawnSync(process.execPath, [join(root, 'tools', script), ...args], {
    cwd: root,
    encoding: 'utf8',
    input: more.input ?? '',
    env: { ...process.env, INIT_CWD: root, GRELLIN_DATA: join(folder, 'data'), ...more.env },
  });
  return { code: done.status, out: done.stdout, err: done.stderr };
}

const pass = 'docs/samples/suit-inflation-pass.json';
const fail = 'docs/samples/brakes-applied-loss-fail.json';

describe('npm run judge', () => {
  it('prints one line of JSON a file, and exits 0 whatever the verdicts', () => {
    const { code, out } = run('judge.mjs', [pass, fail]);
    const lines = out
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as { file: string; verdict: string; findings: unknown[] });
    expect(code).toBe(0);
    expect(lines.map((l) => [l.file, l.verdict])).toEqual([
      [pass, 'pass'],
      [fail, 'fail'],
    ]);
    expect(lines.every((l) => l.findings.length > 3)).toBe(true);
  });

  it('says that a file without a chain is unproved, what it blocks and the earlier attempts', () => {
    const line = JSON.parse(run('judge.mjs', [fail]).out) as Record<string, unknown>;
    expect(line).toMatchObject({ verdict: 'fail', blocks: true, holds: true, condemns: false, proof: 'unproved', earlier: [] });
  });

  it('refuses a file whose chain was touched: exit 2, with the place', () => {
    const torn = join(folder, 'torn.json');
    writeFileSync(
      torn,
      JSON.stringify({ format: 'grellin-run/2', procedure: { id: 'suit.inflation', edition: '2' }, head: { seq: 1, hash: 'a'.repeat(64) }, chain: [] }),
    );
    const { code, out, err } = run('judge.mjs', [torn, pass]);
    expect(code).toBe(2);
    expect(err).toContain(`${torn}: chain: `);
    expect(out).toContain('"proof":"unproved"');
  });

  it('reads standard input', () => {
    const { code, out } = run('judge.mjs', ['-'], { input: readFileSync(join(root, pass), 'utf8') });
    expect(code).toBe(0);
    expect(JSON.parse(out)).toMatchObject({ file: '-', verdict: 'pass', word: 'tight' });
  });

  it('exits 2 naming file and path when one is malformed, and still judges the others', () => {
    const broken = join(folder, 'broken.json');
    writeFileSync(broken, readFileSync(join(root, pass), 'utf8').replace('"unit":"mbar"', '"unit":"furlong"'));
    const { code, out, err } = run('judge.mjs', [broken, pass]);
    expect(code).toBe(2);
    expect(err).toContain(`${broken}: instruments.suit.low.unit: is not a known unit`);
    expect(JSON.parse(out)).toMatchObject({ file: pass });
    const text = join(folder, 'text.json');
    writeFileSync(text, '{"format":');
    expect(run('judge.mjs', [text])).toMatchObject({ code: 2, out: '' });
    expect(run('judge.mjs', [join(folder, 'nowhere.json')]).code).toBe(2);
    expect(run('judge.mjs', []).code).toBe(2);
    expect(run('judge.mjs', ['--help'])).toMatchObject({ code: 0 });
  });
});

describe('the programs', () => {
  it('are never half written while another command builds them: what is started then is the whole of it', async () => {
    const program = join(root, 'dist', 'judge.mjs');
    run('judge.mjs', ['--help']);
    const whole = readFileSync(program, 'utf8');
    // A program that has to be written anew.
    writeFileSync(program, `${whole}\n// of an earlier build\n`);
    const building = [0, 1, 2].map(() => spawn(process.execPath, [join(root, 'tools', 'judge.mjs'), '--help'], { cwd: root, stdio: 'ignore' }));
    const ended = Promise.all(building.map((b) => once(b, 'exit')));
    const state = { over: false };
    void ended.then(() => (state.over = true));
    const lengths = new Set<number>();
    while (!state.over) {
      lengths.add(readFileSync(program).length);
      await new Promise((done) => setImmediate(done));
    }
    expect(Math.min(...lengths)).toBeGreaterThanOrEqual(Buffer.byteLength(whole));
    expect(readFileSync(program, 'utf8')).toBe(whole);
  });
});

describe('npm start', () => {
  it('explains itself, and refuses what it does not know', () => {
    expect(run('start.mjs', ['--help'])).toMatchObject({ code: 0 });
    expect(run('start.mjs', ['--frsh'])).toMatchObject({ code: 1 });
  });

  it('never begins anew in a database that is not its own', () => {
    const { code, err } = run('start.mjs', ['--fresh', '--yes'], { env: { DATABASE_URL: 'postgres://somebody@127.0.0.1:1/theirs' } });
    expect(code).toBe(1);
    expect(err).toContain('never touched');
  });

  it('does not start twice on the same data', () => {
    const script =
      "import { takeLock } from './tools/machine/lock.mjs'; takeLock(process.argv[1], 'Grellin'); takeLock(process.argv[1] + '/other', 'Grellin')(); console.log('first'); process.stdin.resume();";
    const locked = join(folder, 'locked');
    const second = spawnSync(
      'bash',
      [
        '-c',
        `"$0" --input-type=module -e "$1" "$2" </dev/null & sleep 0.1; "$0" --input-type=module -e "$1" "$2" </dev/null; kill %1 2>/dev/null; true`,
        process.execPath,
        script.replace('process.stdin.resume();', 'setTimeout(() => {}, 3000);'),
        locked,
      ],
      { cwd: root, encoding: 'utf8' },
    );
    expect(second.stderr).toContain('is already running in this checkout');
    // A lock whose process has gone is taken over.
    writeFileSync(join(locked, 'lock'), '999999999');
    expect(
      spawnSync(process.execPath, ['--input-type=module', '-e', script.replace('process.stdin.resume();', ''), locked], { cwd: root, encoding: 'utf8' }).stdout,
    ).toContain('first');
  });
});
