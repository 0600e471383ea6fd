import { readFileSync } from 'node:fs';

/** Ticks of the kernel's clock in a second, as Linux gives them to programs on every machine (proc(5), sysconf(_SC_CLK_TCK)). */
const ticks = 100;

/** Seconds of processor time that a process of this machine has taken, with all its threads; null where that cannot be told. */
export function cpuSeconds(pid: number): number | null {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // The name, in brackets, may hold spaces; fields are counted from behind it (proc(5): 14 utime, 15 stime).
    const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
    return (Number(fields[11]) + Number(fields[12])) / ticks;
  } catch {
    return null;
  }
}
