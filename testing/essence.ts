/** Bytes that no two places share, so that a shifted or doubled piece would be seen. */
export function essence(bytes: number, seed = 1): Buffer {
  const made = Buffer.alloc(bytes);
  for (let i = 0, value = seed; i < bytes; i += 1) {
    value = (Math.imul(value, 1664525) + 1013904223) >>> 0;
    made[i] = value >>> 24;
  }
  return made;
}
