import { Injectable } from '@angular/core';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { base64, fromBase64 } from '../picture/base64';

/** Something sealed: AES-GCM, with the name that it lies under bound to it. */
export interface Sealed {
  readonly iv: Uint8Array<ArrayBuffer>;
  readonly data: ArrayBuffer;
}

/** What is kept in plain of the vault: how its key is made of a PIN, and the key itself, wrapped. */
export interface Lock {
  readonly salt: Uint8Array<ArrayBuffer>;
  readonly iterations: number;
  readonly wrapped: Sealed;
  /** Wrong PINs in a row. */
  readonly wrong: number;
}

interface VaultSchema extends DBSchema {
  lock: { key: 'lock'; value: Lock };
  kept: { key: string; value: Sealed };
}

/** As OWASP has it for PBKDF2 with SHA-256 (from memory). */
const ITERATIONS = 600_000;
/** After so many wrong PINs in a row nothing is left to be guessed at here. Whoever has copied the disk may go on: a long PIN is what holds then. */
export const MOST_WRONG = 10;
export const SHORTEST_PIN = 6;

const encoder = new TextEncoder();
const decoder = new TextDecoder();
const random = (bytes: number): Uint8Array<ArrayBuffer> => crypto.getRandomValues(new Uint8Array(bytes));

/** The key that a PIN makes. */
async function keyOf(pin: string, { salt, iterations }: Pick<Lock, 'salt' | 'iterations'>): Promise<CryptoKey> {
  const base = await crypto.subtle.importKey('raw', encoder.encode(pin), 'PBKDF2', false, ['deriveKey']);
  return crypto.subtle.deriveKey({ name: 'PBKDF2', hash: 'SHA-256', salt, iterations }, base, { name: 'AES-GCM', length: 256 }, false, ['encrypt', 'decrypt']);
}

async function seal(key: CryptoKey, name: string, bytes: Uint8Array<ArrayBuffer>): Promise<Sealed> {
  const iv = random(12);
  return { iv, data: await crypto.subtle.encrypt({ name: 'AES-GCM', iv, additionalData: encoder.encode(name) }, key, bytes) };
}

async function unseal(key: CryptoKey, name: string, { iv, data }: Sealed): Promise<Uint8Array<ArrayBuffer>> {
  return new Uint8Array(await crypto.subtle.decrypt({ name: 'AES-GCM', iv, additionalData: encoder.encode(name) }, key, data));
}

const importKey = (raw: Uint8Array<ArrayBuffer>): Promise<CryptoKey> => crypto.subtle.importKey('raw', raw, 'AES-GCM', false, ['encrypt', 'decrypt']);

/** What happened to a PIN. */
export type Unlocked = 'open' | 'wrong' | 'wiped' | 'nothing';

/**
 * What lies on this device, encrypted under a key that only a PIN opens. The key is in memory while the vault is open, never on the disk; everything is sealed
 * under the name that it lies under, so that nothing can be put in another's place.
 */
@Injectable({ providedIn: 'root' })
export class Vault {
  private database: Promise<IDBPDatabase<VaultSchema>> | null = null;
  private key: CryptoKey | null = null;

  private open(): Promise<IDBPDatabase<VaultSchema>> {
    this.database ??= openDB<VaultSchema>('grellin-away', 1, {
      upgrade: (db) => {
        db.createObjectStore('lock');
        db.createObjectStore('kept');
      },
    });
    return this.database;
  }

  get isOpen(): boolean {
    return this.key !== null;
  }

  async hasAnything(): Promise<boolean> {
    return (await (await this.open()).get('lock', 'lock')) !== undefined;
  }

  /** Makes a new vault, open. What lay here before is gone. */
  async create(pin: string): Promise<void> {
    await this.wipe();
    const raw = random(32);
    const how = { salt: random(16), iterations: ITERATIONS };
    const wrapped = await seal(await keyOf(pin, how), 'lock', raw);
    await (await this.open()).put('lock', { ...how, wrapped, wrong: 0 }, 'lock');
    this.key = await importKey(raw);
  }

  /** Opens it. After too many wrong PINs in a row everything is wiped. */
  async unlock(pin: string): Promise<Unlocked> {
    const db = await this.open();
    // Counted before it is tried: who kills the tab while a PIN is tried has tried it.
    const transaction = db.transaction('lock', 'readwrite');
    const lock = await transaction.store.get('lock');
    if (lock) await transaction.store.put({ ...lock, wrong: lock.wrong + 1 }, 'lock');
    await transaction.done;
    if (!lock) return 'nothing';
    try {
      this.key = await importKey(await unseal(await keyOf(pin, lock), 'lock', lock.wrapped));
      await db.put('lock', { ...lock, wrong: 0 }, 'lock');
      return 'open';
    } catch {
      if (lock.wrong + 1 < MOST_WRONG) return 'wrong';
      await this.wipe();
      return 'wiped';
    }
  }

  shut(): void {
    this.key = null;
  }

  private held(): CryptoKey {
    if (!this.key) throw new Error('the vault is shut');
    return this.key;
  }

  async put(name: string, value: unknown): Promise<void> {
    const sealed = await seal(this.held(), name, encoder.encode(JSON.stringify(value)));
    await (await this.open()).put('kept', sealed, name);
  }

  /** @returns undefined where nothing lies under that name */
  // The caller says what it has put there, as with any JSON.

  async get<T>(name: string): Promise<T | undefined> {
    const sealed = await (await this.open()).get('kept', name);
    return sealed && (JSON.parse(decoder.decode(await unseal(this.held(), name, sealed))) as T);
  }

  async names(): Promise<readonly string[]> {
    return (await this.open()).getAllKeys('kept');
  }

  async drop(name: string): Promise<void> {
    await (await this.open()).delete('kept', name);
  }

  /** Nothing is left. */
  async wipe(): Promise<void> {
    this.key = null;
    const db = await this.open();
    await Promise.all([db.clear('lock'), db.clear('kept')]);
  }

  /** All of it as it lies here, sealed: a file that is worth nothing without the PIN. */
  async exported(): Promise<string> {
    const db = await this.open();
    const lock = await db.get('lock', 'lock');
    if (!lock) throw new Error('there is nothing to export');
    const names = await db.getAllKeys('kept');
    const kept = await Promise.all(names.map(async (name) => ({ name, ...texts(await db.get('kept', name)) })));
    const { salt, iterations, wrapped } = lock;
    return JSON.stringify({ format: FORMAT, salt: base64(salt), iterations, wrapped: texts(wrapped), kept });
  }

  /** Lays such a file down here, shut. @throws Error when it is none */
  async laidDown(text: string): Promise<void> {
    const file = JSON.parse(text) as Partial<Exported>;
    if (file.format !== FORMAT || typeof file.salt !== 'string' || typeof file.iterations !== 'number' || !file.wrapped || !Array.isArray(file.kept))
      throw new Error('no such file');
    // All of it is read before anything is written: a file that is broken takes nothing away.
    const kept = (file.kept as Exported['kept']).map(({ name, ...sealed }) => ({ name, sealed: bytes(sealed) }));
    const lock = { salt: fromBase64(file.salt), iterations: file.iterations, wrapped: bytes(file.wrapped), wrong: 0 };
    await this.wipe();
    const db = await this.open();
    for (const { name, sealed } of kept) await db.put('kept', sealed, name);
    await db.put('lock', lock, 'lock');
  }
}

const FORMAT = 'grellin-away-1';
interface SealedText {
  readonly iv: string;
  readonly data: string;
}
interface Exported {
  readonly format: string;
  readonly salt: string;
  readonly iterations: number;
  readonly wrapped: SealedText;
  readonly kept: readonly ({ readonly name: string } & SealedText)[];
}

const texts = (sealed: Sealed | undefined): SealedText => ({ iv: base64(sealed?.iv ?? new Uint8Array()), data: base64(new Uint8Array(sealed?.data ?? [])) });
const bytes = ({ iv, data }: SealedText): Sealed => ({ iv: fromBase64(iv), data: fromBase64(data).buffer });
