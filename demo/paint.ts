import { spawn } from 'node:child_process';
import { cp, mkdir, readdir, readFile, rename, rm, stat, truncate, utimes, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { formatFraction, toNumber } from '@relay/core/time/rational';
import { unwrap } from '@relay/core/result';
import { ffmpeg } from '@relay/media/process/ffmpeg';
import { run, writeAll } from '@relay/media/process/run';
import { coder } from './encode/codes.ts';
import { wav } from './encode/sound.ts';
import { cards } from './cards.ts';
import { writeDemoCuts } from './cuts.ts';
import { writeDemoLooks } from './luts.ts';
import { saltLantern, type Original, type PaintedSet } from './originals.ts';
import { press, stampOf } from './scene/canvas.ts';
import { painterOf } from './scene/estuary.ts';
import { drawChart, drawSlate } from './scene/slate.ts';

/** The label that a frame's slate shows: its own timecode, or time from zero when the camera had none. */
function slateLabel(original: Original, frame: number): string {
  const drop = original.timecode?.includes(';') ?? false;
  const start = unwrap(timecodeToFrames(original.timecode ?? '00:00:00:00', original.rate));
  return unwrap(framesToTimecode(start + frame, original.rate, drop)).text;
}

/** The camera's name as its wrapper keeps it: QuickTime user data, MP4 metadata keys, MXF's identification. */
function named({ device, path }: Original): string[] {
  if (!device) return [];
  const [maker, model] = /\.mxf$/i.test(path) ? ['company_name', 'product_name'] : ['make', 'model'];
  const tags = ['-metadata', `${maker}=${device.maker}`, '-metadata', `${model}=${device.model}`];
  return path.endsWith('.mp4') ? [...tags, '-movflags', '+use_metadata_tags'] : tags;
}

/** Paints one original into `folder`, under a temporary name until it is whole. */
export async function paintOriginal(original: Original, folder: string): Promise<void> {
  const target = join(folder, original.path);
  const part = join(dirname(target), `.painting-${target.slice(target.lastIndexOf('/') + 1)}`);
  const seconds = original.frames / toNumber(original.rate);
  const scratch = join(tmpdir(), `relay-paint-${process.pid}-${original.title.replaceAll(' ', '-')}`);
  await mkdir(dirname(target), { recursive: true });
  await mkdir(scratch, { recursive: true });
  try {
    const tracks = original.sound.map((_, index) => join(scratch, `${index}.wav`));
    await Promise.all(original.sound.map((voice, index) => writeFile(tracks[index] as string, wav(voice, seconds))));

    const share = original.paintedAt ?? 1;
    const pillars = original.pillars ? original.pillars.left + original.pillars.right : 0;
    const inner = { width: (original.width - pillars) * share, height: original.height * share };
    const painter = painterOf(inner.width, inner.height, original.pixelAspect, original.shot);
    const shownWidth = (inner.width * original.pixelAspect) / inner.height;
    const encode = coder(original.recording, original.noise, original.shot.seed);
    const chartX = shownWidth - 0.6;
    const chart = original.chart
      ? stampOf(painter.canvas, chartX, 0.06, chartX + 0.54, 0.42, (c) => drawChart(c, chartX, 0.06, 0.36))
      : null;
    const pixels = new Uint16Array(inner.width * inner.height * 3);

    const ending = original.path.slice(original.path.lastIndexOf('.') + 1).toLowerCase();
    const pad = original.pillars ? [`pad=${original.width}:${original.height}:${original.pillars.left}:0:black`] : [];
    const toVideo = [
      `scale=${inner.width / share}:${inner.height / share}:in_range=pc:out_range=tv:out_color_matrix=bt709:flags=bicubic`,
      ...pad,
    ];
    const given = original.encode.indexOf('-vf');
    const ownFilters = given >= 0 ? [original.encode[given + 1] as string] : [];
    const options =
      given >= 0 ? original.encode.filter((_, index) => index !== given && index !== given + 1) : original.encode;
    const pixelFormat = options[options.indexOf('-pix_fmt') + 1] as string;
    const interlace = original.interlaced ? ['setfield=tff'] : [];
    const args = [
      '-v',
      'error',
      '-y',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb48le',
      '-s',
      `${inner.width}x${inner.height}`,
      '-framerate',
      formatFraction(original.rate),
      '-i',
      'pipe:0',
      ...tracks.flatMap((track) => ['-i', track]),
      '-map',
      '0:v',
      ...tracks.flatMap((_, index) => ['-map', `${index + 1}:a`]),
      '-vf',
      [...toVideo, `format=${pixelFormat}`, ...interlace, ...ownFilters].join(','),
      ...(original.timecode ? ['-timecode', original.timecode] : []),
      '-map_metadata',
      '-1',
      '-fflags',
      '+bitexact',
      ...named(original),
      ...options,
      ...(options.includes('-f') ? [] : ['-f', ending]),
      part,
    ];
    const ended = await run(ffmpeg, args, {
      timeoutMs: 300_000,
      own: true,
      feed: async (stdin) => {
        for (let frame = 0; frame < original.frames; frame += 1) {
          const at = frame / toNumber(original.rate);
          if (original.interlaced) {
            painter.paint(at, 0);
            painter.paint(at + 0.5 / toNumber(original.rate), 1);
          } else painter.paint(at);
          if (chart) press(painter.canvas, chart);
          drawSlate(painter.canvas, original.title, slateLabel(original, frame), frame);
          encode(painter.canvas, pixels, frame);
          await writeAll(stdin, new Uint8Array(pixels.buffer.slice(0)));
        }
      },
    });
    if (ended.code !== 0)
      throw new Error(
        `${original.path} could not be painted: ${ended.stderr.trim().split('\n')[0] ?? 'no reason given'}`,
      );
    if (original.keep) await truncate(part, Math.floor((await stat(part)).size * original.keep));
    const day = original.path.startsWith('day-1/') ? '2026-11-20' : '2026-11-21';
    await utimes(part, new Date(`${day}T18:00:00Z`), new Date(`${day}T18:00:00Z`));
    await rename(part, target);
  } finally {
    await rm(part, { force: true });
    await rm(scratch, { recursive: true, force: true });
  }
}

/** Whether the set in `folder` is whole and of its edition. */
async function isPainted(folder: string, { edition, originals, companions }: PaintedSet): Promise<boolean> {
  const mark = await readFile(join(folder, '.painted'), 'utf8').catch(() => '');
  if (mark !== String(edition)) return false;
  const there = await Promise.all(
    [...originals, ...companions].map(({ path }) =>
      stat(join(folder, path)).then(
        () => true,
        () => false,
      ),
    ),
  );
  return there.every(Boolean);
}

/**
 * Makes a set of demo files in `folder` if they are not there. Each is painted by a process of its own, two at a
 * time; `painter` is the command that paints the one whose path is appended.
 * @returns whether anything had to be painted
 */
async function paintSet(
  set: PaintedSet,
  folder: string,
  painter: readonly [string, ...string[]],
  say: (done: number) => void,
): Promise<boolean> {
  if (await isPainted(folder, set)) return false;
  await mkdir(folder, { recursive: true });
  // The largest first, so that both painters finish together.
  const cost = (o: Original): number => o.width * o.height * o.frames;
  const waiting = [...set.originals].sort((a, b) => cost(b) - cost(a));
  let done = 0;
  const lane = async (): Promise<void> => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const [program, ...args] = painter;
      const child = spawn(program, [...args, next.path, folder], { stdio: ['ignore', 'ignore', 'pipe'] });
      let said = '';
      child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
      const code = await new Promise<number | null>((resolve) => child.once('close', resolve));
      if (code !== 0) throw new Error(said.trim() || `${next.path} could not be painted`);
      done += 1;
      say(done);
    }
  };
  await Promise.all([lane(), lane()]);
  for (const { path, content } of set.companions) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), content);
    await utimes(join(folder, path), new Date('2026-11-21T18:00:00Z'), new Date('2026-11-21T18:00:00Z'));
  }
  await writeFile(join(folder, '.painted'), String(set.edition));
  return true;
}

/**
 * The demo production's originals below `estuary/salt-lantern`, and the cards that have yet to arrive below `cards`.
 */
export async function paintDemo(
  folder: string,
  painter: readonly [string, ...string[]],
  say: (line: string) => void,
): Promise<void> {
  const all = saltLantern.originals.length;
  await paintSet(saltLantern, join(folder, 'estuary', 'salt-lantern'), painter, (done) =>
    say(`Painting the demo originals, ${done} of ${all}`),
  );
  await writeDemoLooks(join(folder, 'estuary', 'looks'));
  await writeDemoCuts(join(folder, 'estuary', 'cuts'));
  // Copies of these are laid out; the folder is the painter's own, and an older edition's files go.
  if (!(await isPainted(join(folder, 'cards'), cards)))
    await rm(join(folder, 'cards'), { recursive: true, force: true });
  await paintSet(cards, join(folder, 'cards'), painter, (done) =>
    say(`Painting the demo cards, ${done} of ${cards.originals.length}`),
  );
}

/** Paints the one original called `path`; for the painter's own process. */
export async function paintOne(path: string, folder: string): Promise<void> {
  const original = [...saltLantern.originals, ...cards.originals].find((candidate) => candidate.path === path);
  if (!original) throw new Error(`${path} is not one of the demo originals`);
  await paintOriginal(original, folder);
}

/** Lays the painted cards on the bay's tray, but for those that lie there or in a slot already. */
export async function layOutCards(folder: string, bay: string): Promise<void> {
  const painted = (await readdir(join(folder, 'cards'))).filter((name) => !name.startsWith('.'));
  const known = new Set(
    (await Promise.all(['.tray', 'slot-1', 'slot-2'].map((place) => readdir(join(bay, place)).catch(() => [])))).flat(),
  );
  for (const card of painted.filter((name) => !known.has(name)))
    await cp(join(folder, 'cards', card), join(bay, '.tray', card), { recursive: true, preserveTimestamps: true });
}
