/**
 * The text of a file that does not say how it is written: by its byte order mark, else UTF-8 where it is that, else
 * Windows-1252, of which Latin-1's letters are a part (WHATWG Encoding Standard).
 */
export function decodedText(bytes: Uint8Array): string {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (first === 0xfe && second === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
