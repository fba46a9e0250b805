import { decimal } from '@grellin/core';

/** A number as a person writes it, with a comma or a point; null when it is none. */
export function typedNumber(text: string): number | null {
  const plain = text.trim().replace(',', '.').replace('−', '-');
  return /^-?\d{1,9}(\.\d{1,6})?$/.test(plain) ? decimal(plain).toNumber() : null;
}
