import { randomInt } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { zxcvbn, zxcvbnOptions } from '@zxcvbn-ts/core';
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common';
import { Coded } from '../base';

zxcvbnOptions.setOptions({ dictionary, graphs: adjacencyGraphs });

/** From 0 to 4: 2 withstands some hundred million guesses at the sign-in, by the package's own estimate. */
const LEAST_SCORE = 2;
/** Estimating goes up with the square of the length; what is longer is strong enough. */
const ESTIMATED = 64;

/** Argon2id with the package's defaults (19 MiB, 2 passes), which are the OWASP recommendation; from memory. */
export function hashPassword(password: string): Promise<string> {
  return hash(password.normalize('NFC'));
}

/** A hash that no password fits, so that an unknown name takes as long to refuse as a wrong password. */
let nobody: Promise<string> | undefined;

/**
 * Whether a password is the one that was kept. Somebody who is not there is answered as slowly as somebody who is.
 * @param stored what was kept of it; undefined where there is no such account
 */
export async function passwordFits(stored: string | undefined, password: string): Promise<boolean> {
  nobody ??= hash('no such account');
  const fits = await verify(stored ?? (await nobody), password.normalize('NFC'));
  return fits && stored !== undefined;
}

/**
 * Refuses a password that is among the first to be guessed: one of fifty thousand common ones, with or without figures behind it, a row of keys, or made of
 * the person's own name.
 * @throws Coded `password.common`
 */
export function requireUncommon(password: string, own: readonly string[]): void {
  const { score } = zxcvbn(password.slice(0, ESTIMATED), [...own.flatMap((o) => [o, ...o.split(/\s+/), o.replace(/\s+/g, '')]), 'grellin']);
  if (score < LEAST_SCORE) throw new Coded('password.common', 'This password is among the first that are guessed: take another, of several words.');
}

const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** A password to be read out once and changed at the first sign-in: four groups of four, without letters that look alike. */
export const oneTimePassword = (): string =>
  Array.from({ length: 4 }, () => Array.from({ length: 4 }, () => LETTERS[randomInt(LETTERS.length)] ?? '').join('')).join('-');
