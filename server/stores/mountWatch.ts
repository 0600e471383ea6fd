import { mountsNow } from '@relay/work/disk/mounts';

/** How often mounts are looked at: a card that is put in is seen while its hand is still at the reader. */
const everyMs = 2_000;

/** Calls back when something was mounted or taken away. Tables of mounts tell no events that Node hears, so it is read. */
export function watchMounts(table: string, changed: () => void): { close(): void } {
  const look = async (): Promise<string> => (await mountsNow(table)).map((mount) => mount.path).join('\n');
  let before: string | null = null;
  let looking = false;
  const tick = async (): Promise<void> => {
    if (looking) return;
    looking = true;
    const now = await look();
    looking = false;
    if (before !== null && now !== before) changed();
    before = now;
  };
  void tick();
  const timer = setInterval(() => void tick(), everyMs);
  timer.unref();
  return { close: () => clearInterval(timer) };
}
