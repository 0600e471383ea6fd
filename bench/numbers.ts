/** Seconds since `from`, which `performance.now()` gave. */
export function secondsSince(from: number): number {
  return (performance.now() - from) / 1000;
}

export function median(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] as number;
}
