import { readFileSync } from 'node:fs';

/**
 * Ticks of the kernel's clock in a second, as Linux gives them to programs on every machine (proc(5),
 * sysconf(_SC_CLK_TCK)).
 */
const ticks = 100;

/** What a process and all that it started have used so far. */
export interface Used {
  /** Seconds of processor time, with all threads. */
  cpuSeconds: number;
  /** Bytes read and written, whether from the disk or from memory: what waits on a slow share still moves these. */
  bytes: number;
}

/** What a process of this machine, and its children and theirs, have used; null where that cannot be told. */
export function used(pid: number): Used | null {
  try {
    const sum = usedAlone(pid);
    for (const child of readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
      .split(' ')
      .filter((one) => one !== '')) {
      const below = used(Number(child));
      sum.cpuSeconds += below?.cpuSeconds ?? 0;
      sum.bytes += below?.bytes ?? 0;
    }
    return sum;
  } catch {
    return null;
  }
}

function usedAlone(pid: number): Used {
  const text = readFileSync(`/proc/${pid}/stat`, 'utf8');
  // The name, in brackets, may hold spaces; fields are counted from behind it (proc(5): 14 utime, 15 stime).
  const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
  return { cpuSeconds: (Number(fields[11]) + Number(fields[12])) / ticks, bytes: movedBy(pid) };
}

/** Characters read and written (proc(5), io); 0 where another account's may not be looked at. */
function movedBy(pid: number): number {
  try {
    const text = readFileSync(`/proc/${pid}/io`, 'utf8');
    return Number(/rchar: (\d+)/.exec(text)?.[1] ?? 0) + Number(/wchar: (\d+)/.exec(text)?.[1] ?? 0);
  } catch {
    return 0;
  }
}
