/** What was made of the originals, as a share of them: `17 %`, `0.97 %`, `4.1 times`. */
export function sayShare({ originalBytes, outputBytes }: { originalBytes: number; outputBytes: number }): string {
  if (originalBytes <= 0) return '';
  const share = outputBytes / originalBytes;
  if (share >= 2) return `${share.toFixed(1)} times`;
  const percent = share * 100;
  return `${percent >= 10 ? percent.toFixed(0) : percent >= 1 ? percent.toFixed(1) : percent.toFixed(2)} %`;
}

/** Millions of bits for each second of the original. */
export function sayMegabits(bytes: number, seconds: number | null): string {
  if (seconds === null || seconds <= 0) return '–';
  const megabits = (bytes * 8) / seconds / 1e6;
  return megabits >= 100 ? megabits.toFixed(0) : megabits >= 10 ? megabits.toFixed(1) : megabits.toFixed(2);
}
