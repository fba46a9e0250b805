import 'fake-indexeddb/auto';
import { openDB } from 'idb';
import { beforeEach, describe, expect, it } from 'vitest';
import { MOST_WRONG, Vault } from './vault';

const PIN = '482 913';

describe('what lies on this device', () => {
  let vault: Vault;
  beforeEach(async () => {
    vault = new Vault();
    await vault.create(PIN);
    await vault.put('suit', { tag: 'GS-01', serial: 'a serial that nobody finds' });
  });

  it('is read again by whoever has the PIN, after the tab was killed', async () => {
    const again = new Vault();
    expect(again.isOpen).toBe(false);
    expect(await again.hasAnything()).toBe(true);
    await expect(again.get('suit')).rejects.toThrow('shut');
    expect(await again.unlock('482 914')).toBe('wrong');
    expect(again.isOpen).toBe(false);
    expect(await again.unlock(PIN)).toBe('open');
    expect(await again.get('suit')).toEqual({ tag: 'GS-01', serial: 'a serial that nobody finds' });
    expect(await again.get('nothing')).toBeUndefined();
  });

  it('is nowhere on the disk in plain, and neither is its key', async () => {
    const db = await openDB('grellin-away', 1);
    const all = JSON.stringify([await db.getAll('kept'), await db.getAll('lock')], (_k, v: unknown) =>
      v instanceof ArrayBuffer ? new TextDecoder('latin1').decode(v) : v instanceof Uint8Array ? new TextDecoder('latin1').decode(v) : v,
    );
    expect(all).not.toContain('GS-01');
    expect(all).not.toContain('nobody finds');
    expect(all).not.toContain(PIN);
    db.close();
    // The same thing twice is not the same twice on the disk.
    await vault.put('a', 1);
    await vault.put('b', 1);
    const other = await openDB('grellin-away', 1);
    const [a, b] = (await Promise.all(['a', 'b'].map((n) => other.get('kept', n)))) as { data: ArrayBuffer }[];
    expect(new Uint8Array(a?.data ?? [])).not.toEqual(new Uint8Array(b?.data ?? []));
    other.close();
  });

  it('cannot be put in another’s place, nor changed by a bit', async () => {
    await vault.put('truck', { tag: 'TR-01' });
    const db = await openDB('grellin-away', 1);
    const suit = (await db.get('kept', 'suit')) as { iv: Uint8Array; data: ArrayBuffer };
    await db.put('kept', suit, 'truck');
    await expect(vault.get('truck')).rejects.toThrow();
    const bent = new Uint8Array(suit.data.slice(0));
    bent[3] = (bent[3] ?? 0) ^ 1;
    await db.put('kept', { iv: suit.iv, data: bent.buffer }, 'suit');
    await expect(vault.get('suit')).rejects.toThrow();
    db.close();
  });

  it('is gone after the tenth wrong PIN in a row, and a right one begins the count anew', async () => {
    const guess = new Vault();
    for (let i = 1; i < MOST_WRONG; i++) expect(await guess.unlock(String(i))).toBe('wrong');
    expect(await guess.unlock(PIN)).toBe('open');
    for (let i = 1; i < MOST_WRONG; i++) expect(await guess.unlock(String(i))).toBe('wrong');
    // Killed while it is tried, and another tab tries on: it has been counted.
    expect(await new Vault().unlock('0')).toBe('wiped');
    expect(await new Vault().unlock(PIN)).toBe('nothing');
    expect(await guess.names()).toEqual([]);
  }, 120_000);

  it('goes to another device as a file that is worth nothing without the PIN', async () => {
    const file = await vault.exported();
    expect(file).not.toContain('GS-01');
    await vault.wipe();
    await expect(vault.exported()).rejects.toThrow();
    for (const no of ['{}', '[]', '{"format":"grellin-away-1"}', 'x']) await expect(vault.laidDown(no)).rejects.toThrow();
    // A broken file takes nothing away of what lies there.
    const broken = new Vault();
    await broken.laidDown(file);
    await expect(broken.laidDown(file.replace('"kept":[{', '"kept":[{"name":"x","iv":"?","data":"?"},{'))).rejects.toThrow();
    expect(await broken.unlock(PIN)).toBe('open');
    await broken.wipe();
    await vault.laidDown(file);
    expect(await vault.unlock('999 999')).toBe('wrong');
    expect(await vault.unlock(PIN)).toBe('open');
    expect(await vault.get('suit')).toMatchObject({ tag: 'GS-01' });
  });
});
