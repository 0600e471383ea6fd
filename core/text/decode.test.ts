import { expect, it } from 'vitest';
import { decodedText } from './decode.ts';

it('a text is read however it is written', () => {
  const bytes = (...values: number[]): Uint8Array => Uint8Array.from(values);
  expect(decodedText(new TextEncoder().encode('Fähre'))).toBe('Fähre');
  expect(decodedText(bytes(0xef, 0xbb, 0xbf, 0x41))).toBe('A');
  expect(decodedText(bytes(0x46, 0xe4, 0x68, 0x72, 0x65))).toBe('Fähre');
  expect(decodedText(bytes(0xff, 0xfe, 0x46, 0, 0xe4, 0))).toBe('Fä');
  expect(decodedText(bytes(0xfe, 0xff, 0, 0x46, 0, 0xe4))).toBe('Fä');
});
