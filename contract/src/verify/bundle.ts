import type { Finding, Procedure, Verdict } from '@grellin/core';
import type { Link } from './seal';

/** A record as it is kept beside its run. */
export interface KeptRecord {
  readonly number: string;
  readonly run: string;
  readonly asset: string;
  readonly procedure: string;
  readonly verdict: Verdict;
  readonly blocks: boolean;
  /** Bundles from before these were kept say nothing of them. */
  readonly holds?: boolean;
  readonly condemns?: boolean;
  readonly counts: boolean;
  readonly result: { readonly findings: readonly Finding[]; readonly earlier: readonly Finding[] };
  readonly head: string;
  readonly sealedAt: string;
  readonly sealedOrder: number;
}

/** A certificate or tag whose bytes were kept when it was issued. */
export interface KeptPaper {
  readonly record: string;
  readonly kind: string;
  readonly issuedAt: string;
  readonly sha256: string;
  /** SHA-256 of the bytes that are kept, worked out by whoever read them. */
  readonly actual: string;
}

/** A picture that a run tells of. */
export interface KeptPicture {
  readonly sha256: string;
  /** SHA-256 of the bytes that are kept, worked out by whoever read them. */
  readonly actual: string;
  /** The bytes themselves, where they go along in a bundle: whoever reads it works their digest out anew. */
  readonly base64?: string;
}

/** A run with all that was kept of it. */
export interface KeptRun {
  readonly id: string;
  readonly procedure: string;
  readonly digest: string;
  readonly asset: string;
  readonly closed: boolean;
  readonly seq: number;
  readonly head: string;
  readonly chain: readonly Link[];
  readonly record: KeptRecord | null;
  readonly papers: readonly KeptPaper[];
  /** Bundles from before there were pictures say nothing of them. */
  readonly pictures?: readonly KeptPicture[];
}

export interface KeptProcedure {
  readonly digest: string;
  readonly document: Procedure;
}

export const BUNDLE_FORMAT = 'grellin-bundle/1';

/** Whether the first line of a file is that of a bundle. */
export const isBundleHead = (line: object): boolean => 'format' in line && line.format === BUNDLE_FORMAT;

/** One line of a bundle: JSON, one thing a line, so that a station of any size can be written and read without standing in memory. */
export type BundleLine =
  { readonly format: typeof BUNDLE_FORMAT; readonly at: string; readonly runs: number } | { readonly procedure: KeptProcedure } | { readonly run: KeptRun };
