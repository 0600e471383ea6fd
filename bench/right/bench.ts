import { mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { joinChapters } from '@relay/core/clip/chapters';
import { isRefusal, type ClipDescription } from '@relay/core/clip/description';
import { hasPicture } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut, type Deliverable, type Recipe } from '@relay/core/recipe/recipe';
import { toNumber } from '@relay/core/time/rational';
import { describeFile } from '@relay/media/describe/describe';
import { openOutput } from '@relay/media/leg/open';
import { ffmpeg, ffprobe } from '@relay/media/process/ffmpeg';
import { run } from '@relay/media/process/run';
import { runLeg } from '@relay/work/leg/leg';
import { makeOriginal, odds, readFrame, type Odd } from './originals.ts';

const [intermediate, proxy] = finishAndCut.deliverables as [Deliverable, Deliverable];
const as = (
  name: string,
  codec: Deliverable['codec'],
  wrapper: Deliverable['wrapper'],
  more: Partial<Deliverable> = {},
): Deliverable => ({ ...intermediate, colour: { kind: 'as-shot' }, name, folder: name, codec, wrapper, ...more });
const recipe: Recipe = {
  ...finishAndCut,
  name: 'Eight ways',
  deliverables: [
    as('prores', { id: 'prores', profile: 'hq' }, 'mov'),
    { ...proxy, name: 'proxy', folder: 'proxy' },
    as('viewing', { id: 'h264', quality: 20 }, 'mp4', { sound: { codec: 'aac', sampleRate: 48_000 } }),
    as('vc3', { id: 'vc3', profile: 'sq' }, 'mxf'),
    as('atom', { id: 'vc3', profile: 'sq' }, 'opatom'),
    as('archive', { id: 'ffv1', sampling: '4:2:2 10' }, 'mkv'),
    as('frames', { id: 'pictures', format: 'dpx' }, 'pictures'),
    as('sound', { id: 'none' }, 'wav'),
  ],
};

async function bytesOf(args: readonly string[]): Promise<Buffer> {
  const chunks: Buffer[] = [];
  const ended = await run(ffmpeg, ['-v', 'error', ...args, 'pipe:1'], {
    own: true,
    onData: (chunk) => {
      chunks.push(chunk);
    },
  });
  if (ended.code !== 0) throw new Error(ended.stderr);
  return Buffer.concat(chunks);
}

/** The numbers on an output's frames, in order. */
async function numbersOf(output: OutputPlan, path: string): Promise<(number | null)[]> {
  const { width, height } = output.video.raster;
  const luma = await bytesOf([
    ...openOutput(output, path).input,
    '-map',
    '0:v:0',
    '-vf',
    'format=gray',
    '-fps_mode',
    'passthrough',
    '-f',
    'rawvideo',
  ]);
  return Array.from({ length: Math.floor(luma.length / (width * height)) }, (_, n) =>
    readFrame(luma.subarray(n * width * height, (n + 1) * width * height), width, height),
  );
}

/** Samples after a click in which none is looked for. */
const deaf = 6_000;

/** First samples of the clicks in one channel at 48 kHz, as far as they lie from the quarter seconds. */
function clicksIn(samples: Buffer): number[] {
  const found: number[] = [];
  for (let i = 0; i < samples.length >> 1; i += 1) {
    if (Math.abs(samples.readInt16LE(i * 2)) < 3_000) continue;
    found.push(i);
    i += deaf;
  }
  return found;
}
const soundArgs = ['-af', 'aresample=48000:async=1:first_pts=0', '-ac', '1', '-f', 's16le'];

/** Where an original's clicks lie after its first picture, by FFmpeg's and ffprobe's word of each file alone. */
async function clicksWanted(folder: string, names: readonly string[], lengths: readonly number[]): Promise<number[]> {
  const all: number[] = [];
  let first = 0;
  for (const [index, name] of names.entries()) {
    const probed = await run(
      ffprobe,
      [
        '-v',
        'error',
        '-show_entries',
        'stream=codec_type,start_time:format=start_time',
        '-of',
        'json',
        join(folder, name),
      ],
      { own: true },
    );
    const { streams, format } = JSON.parse(probed.stdout) as {
      streams: { codec_type: string; start_time?: string }[];
      format: { start_time?: string };
    };
    const start =
      Math.max(
        0,
        Number(streams.find(({ codec_type: type }) => type === 'video')?.start_time ?? 0) -
          Number(format.start_time ?? 0),
      ) * 48_000;
    const samples = Math.round((lengths[index] as number) * 48_000);
    const own = clicksIn(await bytesOf(['-i', join(folder, name), '-map', '0:a:0', ...soundArgs]));
    all.push(
      ...own
        .map((at) => at - start)
        .filter((at) => at >= -2 && at < samples - 2)
        .map((at) => first + at),
    );
    first += samples;
  }
  // Over a joint two may lie so close that they are heard as one.
  return all.reduce<number[]>(
    (kept, at) => (kept.length > 0 && at - (kept.at(-1) as number) < deaf ? kept : [...kept, at]),
    [],
  );
}

interface Wrong {
  output: string;
  what: string;
  seen: boolean;
}

/** Runs one original through the recipe; answers how many outputs there are, and which are wrong. */
async function tryOne(odd: Odd, folder: string): Promise<{ outputs: number; refused: number; wrong: Wrong[] }> {
  const names = await makeOriginal(odd, folder);
  const files = await Promise.all(names.map((name) => describeFile(join(folder, name), name)));
  const refused = files.find(isRefusal);
  if (refused)
    return {
      outputs: recipe.deliverables.length,
      refused: 0,
      wrong: [{ output: odd.name, what: refused.problem.what, seen: true }],
    };
  const [clip, ...rest] = joinChapters(files as ClipDescription[]);
  if (!clip || rest.length > 0)
    return {
      outputs: recipe.deliverables.length,
      refused: 0,
      wrong: [{ output: odd.name, what: 'its files were not joined', seen: false }],
    };
  // What cannot be made of it is refused beforehand, by name; the rest is made.
  const taken = recipe.deliverables.filter((one) => planLeg(clip, { ...recipe, deliverables: [one] }).ok);
  const plan = planLeg(clip, { ...recipe, deliverables: taken });
  if (!plan.ok)
    return {
      outputs: recipe.deliverables.length,
      refused: 0,
      wrong: [{ output: odd.name, what: plan.problem.what, seen: true }],
    };
  const result = await runLeg(plan.value, {
    sourceRoot: folder,
    outRoot: { root: folder, folder: 'out' },
    owner: 'bench.right',
    whole: 'X',
    recorded: async () => null,
    record: async () => undefined,
  });
  const first =
    odd.from === undefined ? 0 : Math.ceil(odd.from * toNumber(clip.video?.rate ?? { num: 25, den: 1 }) - 1e-6);
  const frames = odd.frames * (odd.chapters ?? 1) - first;
  const each = odd.frames / toNumber(clip.video?.rate ?? { num: 25, den: 1 });
  const wanted =
    odd.sound === null
      ? []
      : await clicksWanted(
          folder,
          names,
          names.map(() => (odd.from === undefined ? each : frames / toNumber(clip.video?.rate ?? { num: 25, den: 1 }))),
        );
  const wrong: Wrong[] = [];
  for (const [index, output] of plan.value.outputs.entries()) {
    const { state, problem } = result.outputs[index] ?? {};
    const say = (what: string): void => {
      wrong.push({ output: `${odd.name} ${output.deliverable}`, what, seen: state !== 'proved' });
    };
    const path = join(folder, 'out', output.path);
    if (state !== 'proved') {
      say(`${state}: ${result.outputs[index]?.proof?.reasons.join('; ') || problem?.what || ''}`);
      continue;
    }
    if (hasPicture(output)) {
      const numbers = await numbersOf(output, path);
      const off = numbers.findIndex((number, n) => number !== first + n);
      if (numbers.length !== frames) say(`${numbers.length} frames, not ${frames}`);
      else if (off >= 0) say(`frame ${off + 1} shows number ${numbers[off]}, not ${first + off}`);
    }
    if (output.sound.tracks.length > 0) {
      const opened = openOutput(output, path);
      const found = clicksIn(await bytesOf([...opened.input, '-map', opened.sound(0), ...soundArgs]));
      const kept = wanted.filter((at) => at < output.sound.samples - 2);
      const late = found.map((at, n) => at - (kept[n] ?? Number.NaN));
      if (found.length !== kept.length) say(`${found.length} clicks, not ${kept.length}`);
      else if (late.some((by) => Math.abs(by) > 48))
        say(`clicks lie ${Math.round(late.reduce((a, b) => (Math.abs(b) > Math.abs(a) ? b : a), 0))} samples off`);
    }
  }
  return { outputs: plan.value.outputs.length, refused: recipe.deliverables.length - plan.value.outputs.length, wrong };
}

/**
 * Odd originals through a recipe of eight deliverables: how many outputs are right, by what is painted in them, and how
 * many of the wrong ones their proof saw.
 */
export async function benchRight(args: readonly string[]): Promise<void> {
  const chosen = args[0] ? odds.filter(({ name }) => name.includes(args[0] as string)) : odds;
  let [outputs, wrong] = [0, [] as Wrong[]];
  for (const odd of chosen) {
    const folder = await mkdtemp(join('.relay', 'bench-right-'));
    try {
      const tried = await tryOne(odd, join(process.cwd(), folder));
      outputs += tried.outputs;
      wrong = [...wrong, ...tried.wrong];
      console.log(
        `${odd.name.padEnd(24)} ${tried.outputs - tried.wrong.length} of ${tried.outputs} right${tried.refused > 0 ? `, ${tried.refused} refused beforehand` : ''}${tried.wrong.map(({ output, what, seen }) => `\n    ${output}: ${what}${seen ? ' (seen)' : ' (NOT seen)'}`).join('')}`,
      );
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  }
  console.log(
    `\n${chosen.length} originals, ${outputs} outputs: ${outputs - wrong.length} right; of ${wrong.length} wrong ones ${wrong.filter(({ seen }) => seen).length} seen by their proof`,
  );
}
