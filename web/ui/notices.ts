import type { LegState } from '@relay/contract/states';

/** What somebody wants to be told of while they look elsewhere. Off until they say so; kept on this machine. */
export type Wanted = 'nothing' | 'runs' | 'legs';
const kept = 'relay-notices';

export function wantedNotices(): Wanted {
  const value = globalThis.localStorage?.getItem(kept);
  return value === 'runs' || value === 'legs' ? value : 'nothing';
}

/** Keeps the wish, and asks the browser for the right to show notices the first time. */
export async function wantNotices(wanted: Wanted): Promise<void> {
  localStorage.setItem(kept, wanted);
  if (wanted !== 'nothing' && 'Notification' in window && Notification.permission === 'default')
    await Notification.requestPermission().catch(() => 'denied');
}

/** Two short tones, the second higher for good news and lower for bad. */
function sound(good: boolean): void {
  try {
    const audio = new AudioContext();
    for (const [at, pitch] of [
      [0, 520],
      [0.16, good ? 780 : 350],
    ] as const) {
      const [tone, loud] = [audio.createOscillator(), audio.createGain()];
      tone.frequency.value = pitch;
      loud.gain.setValueAtTime(0.08, audio.currentTime + at);
      loud.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + at + 0.15);
      tone.connect(loud).connect(audio.destination);
      tone.start(audio.currentTime + at);
      tone.stop(audio.currentTime + at + 0.16);
    }
    setTimeout(() => void audio.close(), 1_000);
  } catch {
    // A browser without sound, or one that plays none before the page was touched.
  }
}

function show(title: string, body: string, good: boolean): void {
  sound(good);
  if ('Notification' in window && Notification.permission === 'granted')
    new Notification(title, { body, tag: 'relay' });
}

/** A leg has ended. */
export function legEnded(name: string, state: LegState): void {
  if (wantedNotices() === 'legs') show(name, state, state === 'proved');
}

/** All that an inlet had in hand has ended. */
export function inletEnded(name: string, counts: InletCounts): void {
  if (wantedNotices() !== 'nothing') show(name, sayInletEnd(counts), counts.left === 0);
}

export interface InletCounts {
  made: number;
  left: number;
  eyes: number;
}

/** What came of what an inlet took up, in words. */
export function sayInletEnd({ made, left, eyes }: InletCounts): string {
  const parts = [`${made} made`];
  if (eyes > 0) parts.push(eyes === 1 ? '1 needs eyes' : `${eyes} need eyes`);
  if (left > 0) parts.push(`${left} left`);
  return parts.join(', ');
}

/** Nothing is under way any more. */
export function allEnded(): void {
  if (wantedNotices() !== 'nothing') show('Brisk Relay', 'All legs have ended', true);
}
