import { spawnSync } from 'node:child_process';
import { lstat, mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { planBatch } from '@relay/core/recipe/batch';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { openSheet } from '@relay/work/leg/sheet';
import { AloneInlet } from '@relay/work/watch/aloneInlet';
import { Follower } from '@relay/work/watch/follower';
import { InletMemory } from '@relay/work/watch/memory';
import { median, secondsSince } from '../numbers.ts';

const quietSeconds = 2;
const rounds = 3;
const inlets = 10;
const filesEach = 10_000;
const foldersEach = 50;
/** Long enough for two looks at everything. */
const idleSeconds = 130;

/**
 * An inlet: from the last byte that is written to the first frame that is decoded, at one file and at a thousand that
 * wait together; and what ten inlets cost over a hundred thousand files that they know, beside the plain way of seeing
 * what is new: asking about every file once a minute.
 */
export async function benchInlet(): Promise<void> {
  const home = await mkdtemp(join(tmpdir(), 'relay-bench-'));
  try {
    const clip = await paint(home);
    for (const files of [1, 1_000]) {
      const took: number[] = [];
      for (let round = 0; round < rounds; round += 1)
        took.push(await toFirstFrame(join(home, `${files}-${round}`), clip, files));
      console.log(
        `${files} ${files === 1 ? 'file' : 'files'} waiting: first frame ${median(took).toFixed(2)} s after the last byte, of which ${quietSeconds} s quiet (aim: at most ${quietSeconds + 2} s); ${took.map((one) => one.toFixed(2)).join(', ')}`,
      );
    }
    await idle(join(home, 'idle'));
  } finally {
    await rm(home, { recursive: true, force: true });
  }
}

/** A short HD clip, as its bytes. */
async function paint(home: string): Promise<string> {
  const path = join(home, 'clip.mov');
  const made = spawnSync('ffmpeg', [
    ...['-v', 'error', '-y', '-f', 'lavfi', '-i', 'gradients=s=1920x1080:r=25:seed=1:speed=0.1', '-frames:v', '50'],
    ...['-c:v', 'libx264', '-preset', 'veryfast', '-pix_fmt', 'yuv420p', path],
  ]);
  if (made.status !== 0) throw new Error(made.stderr.toString());
  return path;
}

/** Seconds from the last byte of the last file to the first frame of any. */
async function toFirstFrame(home: string, clip: string, files: number): Promise<number> {
  const [source, out] = [join(home, 'in'), join(home, 'out')];
  await mkdir(source, { recursive: true });
  await mkdir(out);
  const memory = await InletMemory.open(out);
  const sheet = await openSheet(out);
  const stop = new AbortController();
  let first = 0;
  const followed = new AloneInlet({
    source,
    out,
    outs: [out],
    rules: { quietMs: quietSeconds * 1000, partner: null },
    memory,
    plan: (clips) =>
      planBatch(
        clips.map((one) => ({ clip: one, whole: 'in' })),
        finishAndCut,
        [],
      ),
    leg: {
      whole: 'in',
      recorded: (path) => sheet.recorded(path),
      record: (row) => sheet.record(row),
      onProgress: ({ framesDone }) => {
        if (framesDone > 0 && first === 0) {
          first = performance.now();
          stop.abort();
        }
      },
    },
    owner: 'bench',
    originalOf: (path) => sheet.originalOf(path),
    moves: false,
    receipts: [],
    once: false,
    lanes: 2,
    signal: stop.signal,
    tell: () => undefined,
  }).follow();
  // The names differ and the bytes do, by an empty box at the end (ISO/IEC 14496-12, `free`).
  const script = `import { copyFileSync, appendFileSync } from 'node:fs';
    for (let n = 0; n < ${files}; n += 1) {
      const path = ${JSON.stringify(source)} + '/C' + String(n).padStart(4, '0') + 'x.mov';
      const box = Buffer.alloc(64); box.writeUInt32BE(64, 0); box.write('free' + n, 4);
      copyFileSync(${JSON.stringify(clip)}, path); appendFileSync(path, box);
    }`;
  const written = spawnSync(process.execPath, ['--input-type=module', '-e', script]);
  if (written.status !== 0) throw new Error(written.stderr.toString());
  const last = performance.now();
  await followed;
  await memory.close();
  return (first - last) / 1000;
}

/** What ten inlets cost while nothing arrives, beside asking about every file. */
async function idle(home: string): Promise<void> {
  const roots: string[] = [];
  for (let inlet = 0; inlet < inlets; inlet += 1) {
    const root = join(home, String(inlet));
    roots.push(root);
    for (let folder = 0; folder < foldersEach; folder += 1) {
      const at = join(root, String(folder));
      await mkdir(at, { recursive: true });
      for (let file = 0; file < filesEach / foldersEach; file += 1) await writeFile(join(at, `C${file}.mov`), '');
    }
  }
  let asked = 0;
  let from = process.cpuUsage();
  for (const root of roots)
    for (const folder of await readdir(root))
      for (const name of await readdir(join(root, folder))) {
        await lstat(join(root, folder, name));
        asked += 1;
      }
  const plain = cpuSeconds(process.cpuUsage(from));
  const stop = new AbortController();
  const followers = roots.map(
    (root) => new Follower({ root, rules: { quietMs: 2_000, partner: null }, remembered: () => true }),
  );
  for (const follower of followers) await follower.look();
  await new Promise((resolve) => setTimeout(resolve, 3_000));
  let looks = 0;
  from = process.cpuUsage();
  const begun = performance.now();
  const following = followers.map(async (follower) => {
    while (!stop.signal.aborted) {
      await follower.rest(stop.signal);
      if (stop.signal.aborted) return;
      await follower.look();
      looks += 1;
    }
  });
  await new Promise((resolve) => setTimeout(resolve, idleSeconds * 1000));
  const used = cpuSeconds(process.cpuUsage(from));
  const seconds = secondsSince(begun);
  stop.abort();
  await Promise.all(following);
  for (const follower of followers) follower.close();
  console.log(
    `${inlets} inlets over ${asked} known files: ${((100 * used) / seconds).toFixed(2)} % of a core (aim: under 1 %), ${(looks / inlets / (seconds / 60)).toFixed(2)} looks a minute each (aim: at most 1); asking about every file once a minute takes ${((100 * plain) / 60).toFixed(1)} %, ratio ${((used / seconds) * (60 / plain)).toFixed(3)}; ${Math.round(process.memoryUsage().rss / 1e6)} MB in all`,
  );
}

function cpuSeconds({ user, system }: NodeJS.CpuUsage): number {
  return (user + system) / 1e6;
}
