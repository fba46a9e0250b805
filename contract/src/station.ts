import { isZone, type Readiness, type Verdict } from '@grellin/core';
import { mixed, object, type InferType } from 'yup';
import { digest, id, instant, words } from './primitives';
import type { Fault, Otherwise } from './verify';

export const stationSchema = object({
  name: words(120),
  /** IANA name, `Pacific/Auckland`. */
  zone: words(60).test({ name: 'zone', message: 'zone', skipAbsent: true, test: (v) => isZone(v) }),
})
  .required()
  .noUnknown();
export type StationFacts = InferType<typeof stationSchema>;

/** What a certificate's code says. */
export const certificateCodeSchema = object({
  number: id(),
  tag: words(80),
  serial: words(80),
  verdict: mixed<Verdict>().required().oneOf(['pass', 'fail', 'undecided', 'void']),
  sealedAt: instant(),
  head: digest(),
})
  .required()
  .noUnknown();

/** What is answered of one certificate, to whoever holds it: no names, and nothing else. */
export type CertificateAnswer =
  | { readonly known: false }
  | {
      readonly known: true;
      readonly number: string;
      readonly verdict: Verdict;
      readonly sealedAt: string;
      readonly tag: string;
      readonly serial: string;
      /** The chain is whole, and the certificate says what is kept. */
      readonly sound: boolean;
      readonly faults: readonly string[];
      readonly amended: boolean;
      /** How the item stands now. */
      readonly readiness: Readiness | null;
      readonly why: string | null;
    };

/** How far a verification has come; the last one has `finished`. */
export interface VerificationProgress {
  readonly done: number;
  readonly total: number;
  readonly events: number;
  readonly faultCount: number;
  readonly faults: readonly Fault[];
  readonly otherwise: readonly Otherwise[];
  readonly finished: boolean;
  /** It could not be carried to its end. */
  readonly failed?: true;
}
