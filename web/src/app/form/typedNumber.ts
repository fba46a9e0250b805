import { numbersIn, showQuantity } from '@grellin/core';

/** A number as a person writes it, with a comma or a point, or as a fraction; null when it is none, or could be two. */
export function typedNumber(text: string): number | null {
  const [number, other] = numbersIn(text);
  return number === undefined || other !== undefined ? null : number;
}

/** Why a text is no number: it is none, or it could mean two. Null where it is one. */
export function notOneNumber(text: string): string | null {
  const [number, other] = numbersIn(text);
  if (number === undefined) return $localize`must be a number, such as 4.02`;
  if (other === undefined) return null;
  const [a, b] = [number, other].map((value) => showQuantity({ value, unit: '1' }));
  return $localize`could mean ${a}:SMALLER: or ${b}:LARGER:: write it so`;
}
