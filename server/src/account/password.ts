import { hash, verify } from '@node-rs/argon2';

/** Argon2id with the package's defaults (19 MiB, 2 passes), which are the OWASP recommendation; from memory. */
export function hashPassword(password: string): Promise<string> {
  return hash(password.normalize('NFC'));
}

/** A hash that no password fits, so that an unknown name takes as long to refuse as a wrong password. */
let nobody: Promise<string> | undefined;

export async function passwordFits(stored: string | undefined, password: string): Promise<boolean> {
  nobody ??= hash('no such account');
  const fits = await verify(stored ?? (await nobody), password.normalize('NFC'));
  return fits && stored !== undefined;
}
