import { createHash } from 'node:crypto';

/** Digits of base 58 as C4 identification uses them (SMPTE ST 2114). */
const digits = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';

/** The C4 ID of some bytes (SMPTE ST 2114): SHA-512 in base 58, 88 digits, behind `c4`. ASC MHL's chain file names generations by it. */
export function c4Of(bytes: Uint8Array | string): string {
  let value = BigInt(`0x${createHash('sha512').update(bytes).digest('hex')}`);
  let id = '';
  while (value > 0n) {
    id = (digits[Number(value % 58n)] as string) + id;
    value /= 58n;
  }
  return `c4${id.padStart(88, '1')}`;
}
