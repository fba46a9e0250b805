import type { Dimension } from '../quantity';
import type { Id, Words } from './language';

export type AttributeKind = { readonly kind: 'words' } | { readonly kind: 'yesNo' } | { readonly kind: 'quantity'; readonly dimension: Dimension };

export interface AttributeRow {
  readonly id: Id;
  readonly title: Words;
  readonly type: AttributeKind;
}

/** A kind of equipment, with the attributes that its procedures may ask for. */
export interface AssetClass {
  readonly id: Id;
  readonly title: Words;
  readonly attributes: readonly AttributeRow[];
}

const words = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'words' } });
const yesNo = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'yesNo' } });
const number = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'quantity', dimension: 'number' } });
const volume = (id: Id, title: Words): AttributeRow => ({ id, title, type: { kind: 'quantity', dimension: 'volume' } });

const vehicle = [number('units', 'Units in the combination'), volume('reservoir', 'Air reservoirs, each circuit'), words('useAs', 'Tested as')] as const;

export const assetClasses: readonly AssetClass[] = [
  {
    id: 'gas-tight-suit',
    title: 'Gas-tight suit',
    attributes: [
      yesNo('openFaced', 'Open-faced'),
      number('exhaustValves', 'Exhaust valves'),
      words('buildStandard', 'Built to'),
      volume('volume', 'Inside volume'),
    ],
  },
  { id: 'truck', title: 'Truck', attributes: vehicle },
  { id: 'bus', title: 'Bus', attributes: vehicle },
  { id: 'fire-apparatus', title: 'Fire apparatus', attributes: vehicle },
  { id: 'trailer', title: 'Trailer', attributes: [volume('reservoir', 'Air reservoir')] },
];

/** @returns the class, or undefined when there is none of that name. */
export function assetClass(id: Id): AssetClass | undefined {
  return assetClasses.find((c) => c.id === id);
}
