/** One value more of an option that may be given several times. */
export function collected(value: string, before: readonly string[] = []): string[] {
  return [...before, value];
}

/** Takes what a command ends with: its exit code. */
export type Ends = (code: number) => void;
