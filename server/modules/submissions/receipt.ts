import { randomInt } from 'node:crypto';

/** Neither vowels nor what looks like another sign: it is read out on the telephone. */
const SIGNS = '23456789BCDFGHJKMNPQRSTVWXYZ';

/** A number for a receipt, such as LT-4F7-2C3: by chance, so that it says nothing of how many there are. */
export function newReceipt(): string {
  const sign = (): string => SIGNS[randomInt(SIGNS.length)]!;
  const group = (): string => sign() + sign() + sign();
  return `LT-${group()}-${group()}`;
}
