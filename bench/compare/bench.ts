import { mkdir } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import { finishAndCut, type Recipe } from '@relay/core/recipe/recipe';
import { formatRaster } from '@relay/core/shape/raster';
import { toNumber } from '@relay/core/time/rational';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { runOwn } from '@relay/media/process/run';
import { clipsToRun, planClips } from '@relay/server/runs/plans';
import { readFiles } from '@relay/work/read/readFiles';
import { filesBelow } from '@relay/work/disk/walk';
import { chromium, type Page } from 'playwright-core';
import { secondsSince } from '../numbers.ts';
import { productionOf, runToEnd, withWorker } from '../ordered.ts';
import { withSite } from '../site.ts';

const seconds = 12;

/** An HD proxy of whatever there is. */
const hdProxy: Recipe = {
  ...finishAndCut,
  deliverables: finishAndCut.deliverables
    .filter(({ role }) => role === 'proxy')
    .map((one) => ({ ...one, raster: { kind: 'fit' as const, width: 1920, height: 1920 } })),
};

/** UHD originals of 23.976, as cameras write them: long groups of 10 bit and of 8, and whole pictures. */
const originals: readonly (readonly [name: string, args: readonly string[]])[] = [
  ['avc10', ['-c:v', 'libx264', '-preset', 'veryfast', '-b:v', '60M', '-pix_fmt', 'yuv420p10le', '-g', '24']],
  ['hevc8', ['-c:v', 'libx265', '-preset', 'ultrafast', '-b:v', '40M', '-x265-params', 'log-level=none:keyint=24']],
  ['prores', ['-c:v', 'prores_ks', '-profile:v', '2', '-qscale:v', '11']],
];

async function paint(folder: string, wanted: typeof originals): Promise<void> {
  await mkdir(folder, { recursive: true });
  for (const [name, args] of wanted) {
    const made = await runOwn(ffmpeg, [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i'],
      `testsrc2=s=3840x2160:r=24000/1001:d=${seconds},noise=alls=6:allf=t`,
      ...['-f', 'lavfi', '-i', `sine=f=330:r=48000:d=${seconds}`, ...args, '-c:a', 'pcm_s16le'],
      join(folder, `${name}.mov`),
    ]);
    if (made.code !== 0) throw new Error(made.stderr);
  }
}

/** Seconds that FFmpeg takes to decode a file and do nothing with it. */
async function decoding(path: string): Promise<number> {
  const from = performance.now();
  await runOwn(ffmpeg, ['-v', 'error', '-i', path, '-map', '0:v:0', '-f', 'null', '-']);
  return secondsSince(from);
}

interface Played {
  /** Milliseconds from the key to the first picture. */
  firstMs: number;
  frames: number[];
  /** From the first picture to the last. */
  seconds: number;
}

/** Plays what is open to its end, and says which frames were drawn. */
async function played(page: Page): Promise<Played> {
  await page.keyboard.press('Home');
  await page.getByText('decoded in full depth').waitFor();
  await page.waitForTimeout(2_000);
  await page.evaluate(() => {
    const seen: { at: number; frame: number }[] = [];
    Object.assign(globalThis, { seen });
    const slider = document.querySelector<HTMLInputElement>('input[aria-label=Frame]');
    const each = (): void => {
      const frame = Number(slider?.value);
      if (seen.at(-1)?.frame !== frame) seen.push({ at: performance.now(), frame });
      requestAnimationFrame(each);
    };
    seen.push({ at: performance.now(), frame: -1 });
    requestAnimationFrame(each);
  });
  const from = await page.evaluate(() => performance.now());
  await page.keyboard.press('l');
  await page.getByText('made light').waitFor();
  await page.getByText('decoded in full depth').waitFor({ timeout: seconds * 10_000 });
  const seen = await page.evaluate(() => (globalThis as unknown as { seen: { at: number; frame: number }[] }).seen);
  const drawn = seen.filter(({ at, frame }) => at > from && frame > 0);
  const [first, last] = [drawn[0], drawn.at(-1)];
  if (!first || !last) throw new Error('nothing was drawn');
  return { firstMs: first.at - from, frames: drawn.map(({ frame }) => frame), seconds: (last.at - first.at) / 1000 };
}

/**
 * An HD proxy beside its UHD original in headless Chromium on this machine: frames that were drawn, those that were
 * not, and how long the first takes; beside it what decoding the original alone takes. Arguments: which originals (all).
 */
export async function benchCompare(args: readonly string[]): Promise<void> {
  const wanted = args.length > 0 ? originals.filter(([name]) => args.includes(name)) : originals;
  await withSite(async (site) => {
    const folder = join(site.store, 'cards', 'uhd');
    await paint(folder, wanted);
    const entries = await readFiles((await filesBelow(folder)).files);
    const clips = entries.filter((entry): entry is ClipDescription => !isRefusal(entry));
    const production = await productionOf(site.db, 'UHD', 'cards/uhd', clips);
    const planned = planClips(await clipsToRun(site.db, production, null), hdProxy);
    await withWorker(site, async () => {
      await runToEnd(site, production, planned, 'made', hdProxy);
    });
    const outputs = await site.db.query<{ id: string; path: string }[]>('SELECT id, path FROM output ORDER BY path');
    const browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu'],
    });
    try {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
      for (const { id, path } of outputs) {
        const clip = clips.find(({ stem }) => path.includes(stem));
        if (!clip?.video) throw new Error(`${path} is of no clip`);
        const rate = toNumber(clip.video.rate);
        const alone = await decoding(join(folder, clip.path));
        await page.goto(`${site.at}/p/${production}/checks/${id}`);
        await page.getByText('decoded in full depth').waitFor();
        for (const way of ['s', 'w', 'd']) {
          await page.keyboard.press(way);
          const { firstMs, frames, seconds: took } = await played(page);
          const whole = (frames.at(-1) ?? 0) - (frames[0] ?? 0) + 1;
          console.log(
            `${clip.stem} ${formatRaster(clip.video.raster)}, ${{ s: 'side by side', w: 'wipe', d: 'difference' }[way]}: ${(frames.length / took).toFixed(1)} pictures a second of ${rate.toFixed(3)}; ${whole - frames.length} of ${whole} not drawn; the first after ${(firstMs / 1000).toFixed(2)} s; ${(took / (whole / rate)).toFixed(3)} of its length; decoding the original alone takes ${(alone / seconds).toFixed(2)} of it`,
          );
        }
      }
    } finally {
      await browser.close();
    }
  }, resolve('build/web'));
}
