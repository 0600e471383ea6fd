/** What a box of MP4 holds (ISO/IEC 14496-12, 4.2): its bytes behind size and kind, or null where it is not there yet. */
function inBox(bytes: Uint8Array, kind: string, from = 0): Uint8Array | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  for (let at = from; at + 8 <= bytes.length;) {
    const size = view.getUint32(at);
    if (size < 8 || at + size > bytes.length) return null;
    if (String.fromCharCode(...bytes.subarray(at + 4, at + 8)) === kind) return bytes.subarray(at + 8, at + size);
    at += size;
  }
  return null;
}

/** Where four letters stand in bytes; -1 where they do not. */
function found(bytes: Uint8Array, letters: string): number {
  const wanted = [...letters].map((one) => one.charCodeAt(0));
  return bytes.findIndex((_, at) => wanted.every((code, index) => bytes[at + index] === code));
}

/**
 * What a light stream is to be called for a browser that is handed it piece by piece (RFC 6381, 3.3): H.264 with its
 * profile and level as its own configuration says (ISO/IEC 14496-15, 5.3.3), and AAC where it has sound. Null as long as
 * the bytes that have come do not say.
 */
export function streamType(begin: Uint8Array): string | null {
  const movie = inBox(begin, 'moov');
  if (!movie) return null;
  const at = found(movie, 'avcC');
  if (at < 0) return null;
  const profile = [...movie.subarray(at + 5, at + 8)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  const sound = found(movie, 'mp4a') < 0 ? '' : ',mp4a.40.2';
  return `video/mp4;codecs="avc1.${profile}${sound}"`;
}
