import type { AssetRow } from './asset';

export interface KitRow {
  readonly id: string;
  readonly name: string;
  readonly needs: readonly { readonly class: string; readonly minimum: number; readonly ready: number; readonly held: number }[];
  /** Every need is met now. */
  readonly ready: boolean;
  /** What is lacking, in words; null where nothing is. */
  readonly short: string | null;
  /** Items that a check before use would make ready. */
  readonly checkFirst: readonly AssetRow[];
  readonly assets: readonly string[];
}
