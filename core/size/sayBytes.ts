const units = [
  [1e12, 'TB'],
  [1e9, 'GB'],
  [1e6, 'MB'],
  [1e3, 'kB'],
] as const;

/** Bytes as people read them, in thousands: 1.53 GB, 22.4 MB, 800 bytes. */
export function sayBytes(bytes: number): string {
  for (const [unit, name] of units)
    if (bytes >= unit) {
      const value = bytes / unit;
      return `${value.toFixed(value < 10 ? 2 : value < 100 ? 1 : 0)} ${name}`;
    }
  return `${bytes} bytes`;
}
