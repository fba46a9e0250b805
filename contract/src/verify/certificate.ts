import type { Verdict } from '@grellin/core';
import type { KeptRecord } from './bundle';
import type { Fault } from './verify';

/** What the code on a certificate says: enough to find the record, and the head of its chain, which is an anchor outside the database. */
export interface CertificateCode {
  readonly number: string;
  readonly tag: string;
  readonly serial: string;
  readonly verdict: Verdict;
  readonly sealedAt: string;
  readonly head: string;
}

const verdicts: readonly string[] = ['pass', 'fail', 'undecided', 'void'];
const names = ['number', 'tag', 'serial', 'verdict', 'sealedAt', 'head'] as const;
const letters: Readonly<Record<(typeof names)[number], string>> = { number: 'n', tag: 't', serial: 's', verdict: 'v', sealedAt: 'a', head: 'h' };

function codeFrom(get: (name: (typeof names)[number]) => string | null | undefined): CertificateCode | null {
  const [number, tag, serial, verdict, sealedAt, head] = names.map((name) => get(name) ?? '');
  const whole = number && tag && serial && verdict && verdicts.includes(verdict) && sealedAt && head && /^[0-9a-f]{64}$/.test(head);
  return whole ? { number, tag, serial, verdict: verdict as Verdict, sealedAt, head } : null;
}

/** The page that the code opens, with all that it says behind the `#`: no server learns it from the address. */
export function codeUrl(base: string, code: CertificateCode): string {
  const said = new URLSearchParams(names.map((name): [string, string] => [letters[name], code[name]]));
  return `${base.replace(/\/$/, '')}/verify#${said.toString()}`;
}

/** Reads a code: the address that today's certificates carry, its part behind the `#`, or the lines of the first edition. */
export function readCode(text: string): CertificateCode | null {
  const plain = text.trim();
  if (plain.startsWith('GRELLIN/1\n')) {
    const lines = plain.split('\n').slice(1);
    return codeFrom((name) => lines[names.indexOf(name)]);
  }
  const said = new URLSearchParams(plain.slice(plain.indexOf('#') + 1));
  return codeFrom((name) => said.get(letters[name]));
}

/** Holds a certificate against the record that is kept under its number. */
export function verifyCode(code: CertificateCode, record: KeptRecord | null): readonly Fault[] {
  const said = (codeOf: Fault['code'], message: string): Fault => ({ code: codeOf, run: record?.run ?? null, seq: null, message });
  if (!record) return [said('certificate.unknown', `there is no record ${code.number}`)];
  if (record.head !== code.head || record.verdict !== code.verdict || Date.parse(record.sealedAt) !== Date.parse(code.sealedAt))
    return [said('certificate.differs', `the certificate ${code.number} says ${code.verdict} under another seal than what is kept`)];
  return [];
}
