/** Bytes as people compare them, decimal units: number and unit apart, so that the unit can be dimmed. */
export function splitBytes(bytes: number): [string, string] {
  const steps: [number, string, number][] = [
    [1e12, 'TB', 2],
    [1e9, 'GB', 1],
    [1e6, 'MB', 1],
    [1e3, 'kB', 0],
  ];
  const step = steps.find(([size]) => bytes >= size * 0.9995);
  return step ? [(bytes / step[0]).toFixed(step[2]), step[1]] : [String(bytes), 'B'];
}

export function sayBytes(bytes: number): string {
  return splitBytes(bytes).join(' ');
}
