import { createHash } from 'node:crypto';

/** Digits of base 58 as C4 identification uses them (SMPTE ST 2114). */
const digits = '123456789ABCDEFGHJKLMNPQRSTUVWXYZabcdefghijkmnopqrstuvwxyz';

/**
 * The C4 ID of some bytes (SMPTE ST 2114): SHA-512 in base 58, 88 digits, behind `c4`. ASC MHL's chain file names
 * generations by it.
 */
export function c4Of(bytes: Uint8Array | string): string {
  return c4OfDigest(createHash('sha512').update(bytes).digest('hex'));
}

/** The same from the SHA-512 of the bytes, in hexadecimal. */
export function c4OfDigest(sha512: string): string {
  let value = BigInt(`0x${sha512}`);
  let id = '';
  while (value > 0n) {
    id = (digits[Number(value % 58n)] as string) + id;
    value /= 58n;
  }
  return `c4${id.padStart(88, '1')}`;
}
