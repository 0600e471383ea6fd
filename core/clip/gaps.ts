/**
 * Names missing in a roll's series of clips, by their last number of two digits or more: `A001C003` and `A001C006` miss
 * `A001C004` and `A001C005`. Names of other shapes say nothing; gaps of more than fifty are another series, not lost
 * clips.
 */
export function gapsIn(stems: readonly string[]): string[] {
  const series = new Map<string, { numbers: Set<number>; width: number; after: string }>();
  for (const stem of stems) {
    const parts = /^(.*?)(\d{2,6})(\D{0,6}\d?\D{0,6})$/.exec(stem);
    if (!parts) continue;
    const key = `${parts[1]}\u0000${parts[2]?.length}\u0000${parts[3]}`;
    const one = series.get(key) ?? { numbers: new Set<number>(), width: parts[2]?.length ?? 0, after: parts[3] ?? '' };
    one.numbers.add(Number(parts[2]));
    series.set(key, one);
  }
  return [...series]
    .flatMap(([key, { numbers, width, after }]) => {
      const sorted = [...numbers].sort((a, b) => a - b);
      return sorted.slice(1).flatMap((number, index) => {
        const before = sorted[index] as number;
        return number - before <= 50
          ? Array.from(
              { length: number - before - 1 },
              (_, step) => `${key.split('\u0000')[0] ?? ''}${String(before + 1 + step).padStart(width, '0')}${after}`,
            )
          : [];
      });
    })
    .sort();
}
