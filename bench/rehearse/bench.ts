import { readEdl } from '@relay/core/cut/edl/read';
import { framesNeeded } from '@relay/core/cut/needed';
import { rehearsed } from '@relay/core/relink/rehearsal';
import type { CutOriginal } from '@relay/core/relink/target';
import { unwrap } from '@relay/core/result';
import { rational } from '@relay/core/time/rational';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { median, secondsSince } from '../numbers.ts';

const film = rational(24000, 1001);
const [clips, events] = [100_000, 5_000];
const label = (frames: number): string => unwrap(framesToTimecode(frames, film)).text;

/** A shoot of a thousand cards with a hundred clips each, timecode of the day; every tenth card has reels of its clips' names. */
function shoot(): CutOriginal[] {
  return Array.from({ length: clips }, (_, n) => {
    const [card, clip] = [Math.floor(n / 100), (n % 100) + 1];
    const roll = `${'ABCD'[card % 4]}${String(card).padStart(3, '0')}`;
    const stem = `${roll}C${String(clip).padStart(3, '0')}`;
    return {
      path: `day-${Math.floor(card / 40)}/${roll}/${stem}.mov`,
      reels: [card % 10 === 0 ? `${stem}_112326_${roll}` : roll],
      timecode: { start: label((card % 4) * 7 + 600_000 + clip * 3_600), dropFrame: false },
      rate: film,
      frames: 2_400,
    };
  });
}

/** A cut of them: by reel, by name, by path, by a reel that was cut to 8 letters, and now and then of a card that is not there. */
function list(originals: readonly CutOriginal[]): string {
  const lines: string[] = [];
  for (let n = 0; n < events; n += 1) {
    const one = originals[(n * 7_919) % clips] as CutOriginal;
    const start = unwrap(timecodeToFrames(one.timecode?.start ?? '', film)) + (n % 1_000);
    const reel = [one.reels[0] ?? '', (one.reels[0] ?? '').slice(0, 8), 'AX', 'AX', n % 10 === 4 ? 'Z999' : 'AX'][
      n % 5
    ] as string;
    lines.push(`${n} ${reel} V C ${label(start)} ${label(start + 48)} ${label(n * 48)} ${label(n * 48 + 48)}`);
    if (n % 5 === 2) lines.push(`* FROM CLIP NAME: ${one.path.split('/').at(-1)}`);
    if (n % 5 === 3) lines.push(`* SOURCE FILE: /shuttle/${one.path}`);
  }
  return lines.join('\n');
}

/** `./relay bench rehearse`: a cut of 5,000 events against 100,000 clips, beside looking at every clip for every event. */
export async function benchRehearse(): Promise<void> {
  const originals = shoot();
  const text = list(originals);
  const reading = performance.now();
  const { cut } = unwrap(readEdl(text, { given: film }));
  const read = secondsSince(reading);
  const times: number[] = [];
  let counts = {};
  const before = process.memoryUsage().heapUsed;
  let most = 0;
  for (let turn = 0; turn < 5; turn += 1) {
    const from = performance.now();
    const found = rehearsed(cut, originals);
    times.push(secondsSince(from));
    counts = found.counts;
    most = Math.max(most, process.memoryUsage().heapUsed - before);
  }
  // The plain way, of a fiftieth of the events: reel and timecode of every clip looked at.
  const needed = framesNeeded(cut);
  const from = performance.now();
  let plainly = 0;
  for (let n = 0; n < events / 50; n += 1) {
    const { reel } = cut.events[n]?.source ?? {};
    const span = needed[n];
    const all = originals.filter((one) => {
      const start = unwrap(timecodeToFrames(one.timecode?.start ?? '', film));
      return one.reels[0] === reel && span && span.from >= start && span.to <= start + one.frames;
    });
    plainly += all.length;
  }
  const plain = secondsSince(from) * 50;
  process.stdout.write(
    `read ${events} events in ${(read * 1000).toFixed(0)} ms; against ${clips} clips ${median(times).toFixed(2)} s (median of 5), ` +
      `at most ${(most / 1e6).toFixed(0)} MB of heap; clip by clip ${plain.toFixed(0)} s (${plainly} found of a fiftieth): ` +
      `${(plain / median(times)).toFixed(0)} times as long\n${JSON.stringify(counts)}\n`,
  );
  await Promise.resolve();
}
