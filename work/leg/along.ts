import type { ClipDescription } from '@relay/core/clip/description';
import { filesWhole } from '@relay/core/clip/part';
import { toNumber } from '@relay/core/time/rational';
import type { Along } from '@relay/core/measure/along';
import { ratePerSecond, type Packet } from '@relay/core/measure/measured';
import { hasPicture } from '@relay/core/recipe/codecs';
import { membersOf } from '@relay/core/recipe/members';
import type { LegPlan, OutputPlan } from '@relay/core/recipe/legPlan';
import { heardAlong } from '@relay/media/compare/heardAlong';
import { measureLikeness, measuredByPlan } from '@relay/media/compare/measure';
import { isSeenByChain, mostSeen, seenAlong } from '@relay/media/compare/seenAlong';
import { outputSide } from '@relay/media/compare/side';
import { firstInput, openOutput } from '@relay/media/leg/open';
import { packetsOf } from '@relay/media/look/packets';
import { withInput } from '@relay/media/process/joined';
import { legColour, type LutText } from './colour.ts';
import { makeReady, type ImageBytes } from './ready.ts';

/** A finished output and its original, held open, to be measured along their length. */
export interface ToMeasure {
  plan: LegPlan;
  output: OutputPlan;
  /** Where the output lies, and the original's files in their order. */
  path: string;
  files: readonly string[];
  clip: ClipDescription;
  /** Every so many frames one is measured. */
  every: number;
  lutText: LutText;
  imageBytes: ImageBytes;
  signal?: AbortSignal;
  /** Told how many frames of the output are measured. */
  onFrame?: (frames: number) => void;
}

/**
 * Measures an output along its length beside what it was made of: its pictures against the original through all of the
 * plan's steps, its colours against the chain itself, its sound against the original by the plan's mix.
 * @throws Error in plain words where something cannot be read or made ready
 */
export async function measureAlong(asked: ToMeasure): Promise<Along> {
  const { plan, output, path, files, clip, every, signal } = asked;
  const source = { paths: files, clip };
  const opened = openOutput(output, path);
  const along: Along = {
    version: 1,
    rate: output.video.rate,
    frames: output.video.frames,
    every,
    psnr: [],
    ssim: [],
    missing: 0,
    seen: null,
    sound: [],
    flow: { output: null, original: null },
  };
  const stop = signal ? { signal } : {};
  if (hasPicture(output)) await measurePictures(asked, along);
  if (signal?.aborted) return along;
  along.sound = await heardAlong(plan, output, { opened, source, ...stop });
  if (!hasPicture(output) || signal?.aborted) return along;
  const packets = await withInput({ ...source, clip: filesWhole(clip) }, (input, hands) =>
    packetsOf(firstInput(input), 0, { hands, ...stop }),
  );
  const original = packetsOfPart(clip, packets);
  along.flow = {
    output:
      membersOf(output)?.picture.kind === 'numbered' ? null : flow(await packetsOf(firstInput(opened.input)), output),
    original: clip.video && flow(original, { video: clip.video }),
  };
  return along;
}

/** Those packets that a part's pictures came in. */
function packetsOfPart({ part, video }: ClipDescription, packets: Packet[]): Packet[] {
  if (!part || !video) return packets;
  const from = toNumber(video.start) + toNumber(part.at) - 0.001;
  const to = from + toNumber(video.duration);
  return packets.filter(({ seconds }) => seconds >= from && seconds < to);
}

function flow(
  packets: readonly Packet[],
  { video }: { video: { rate: OutputPlan['video']['rate'] } },
): number[] | null {
  return packets.length === 0 ? null : ratePerSecond(packets, video.rate).map(Math.round);
}

/** Pictures and colours, into `along`. */
async function measurePictures(asked: ToMeasure, along: Along): Promise<void> {
  const { plan, output, path, files, clip, every, signal, onFrame } = asked;
  const source = { paths: files, clip };
  const opened = openOutput(output, path);
  const alone: LegPlan = { ...plan, outputs: [output] };
  const colour = await legColour(alone.outputs, asked.lutText);
  const ready = await makeReady(alone, source, asked.imageBytes, signal).catch(async (error: Error) => {
    await colour.discard();
    throw error;
  });
  const lut = colour.luts[0];
  const tuning = { ...ready.tunings[0], ...(lut ? { lut } : {}) };
  try {
    await withInput(source, async (input, hands) => {
      await measureLikeness(
        measuredByPlan(output, opened, { input, hands }, tuning),
        every,
        ({ frame, psnr, ssim }) => {
          along.psnr.push(psnr === null ? null : Math.round(psnr * 1000) / 1000);
          along.ssim.push(Math.round(ssim * 1e6) / 1e6);
          onFrame?.(Math.min(output.video.frames, frame + every));
        },
        signal,
      );
      along.missing = Math.max(0, Math.ceil(output.video.frames / every) - along.ssim.length);
      const samples = outputSide(opened, output, output)?.samples;
      if (!isSeenByChain(output) || !samples || signal?.aborted) return;
      const step = every * Math.max(1, Math.ceil(output.video.frames / every / mostSeen));
      const seen: NonNullable<Along['seen']> = [];
      await seenAlong(
        output,
        { opened, input, hands, tuning, samples },
        step,
        async (pictures) => {
          const { mean, p99 } = await colour.seen(output, pictures);
          if (Number.isFinite(mean)) seen.push({ frame: pictures.frame, mean: round(mean), p99: round(p99) });
        },
        signal,
      );
      along.seen = seen;
    });
  } finally {
    await ready.discard();
    await colour.discard();
  }
}

const round = (value: number): number => Math.round(value * 1000) / 1000;
