import type { SwapProof } from '@relay/contract/cuts';
import { readEdl } from '@relay/core/cut/edl/read';
import { writeEdl } from '@relay/core/cut/edl/write';
import { likeness } from '@relay/core/proof/likeness';
import { under } from '@relay/core/naming/under';
import { laidOutAs, smallLumas } from '@relay/media/compare/alike';
import { clipSide, outputSide } from '@relay/media/compare/side';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { Tuning } from '@relay/media/leg/encoders';
import { openOutput } from '@relay/media/leg/open';
import { withInput } from '@relay/media/process/joined';
import { holding } from '@relay/work/disk/held';
import { inLanes } from '@relay/work/lanes';
import { legColour } from '@relay/work/leg/colour';
import { outputIn } from '@relay/work/leg/outputPlace';
import { cabinetText } from '../cabinet/cabinet.ts';
import { plannedOf, recordOf } from '../checks/outputs.ts';
import { withOriginal } from '../clips/original.ts';
import { storeOr404, type Context } from '../context.ts';
import { swapOfRun, type SwapOfRun } from './swap.ts';

/** Pictures rise and fall together at least so far where they are one frame in two looks. */
const alikeFrom = 0.8;
/**
 * A neighbour is more alike where it lacks less than this share of what the frame itself lacks of being the same, and more
 * than rounding: of what stands still, none is more so than another.
 */
const closer = { share: 0.85, least: 2e-6 };

/** What an event of the written list leads to, as a program would open it: a file, and a frame of it. */
interface Led {
  number: string;
  /** Its place in the cut. */
  index: number;
  file: number;
  at: number;
  of: number;
}

/** The list as it is written, read again; each of its events by the path and timecode that it states. */
function ledBy({ tried, swap }: SwapOfRun): Led[] {
  const { rate } = tried.version.read.cut.rate;
  const again = readEdl(writeEdl(swap.cut), { given: rate });
  if (!again.ok) return [];
  const found = new Map<string, { file: string | null; from: number | undefined }>();
  for (const { record, tracks, source } of again.value.cut.events)
    for (const track of tracks) found.set(`${track} ${record.from}`, { file: source.file, from: source.frames?.from });
  return swap.cut.events.flatMap((event, index): Led[] => {
    const swapped = swap.events[index];
    const [track = ''] = event.tracks;
    if (!swapped || !track.startsWith('V')) return [];
    const written = found.get(`${track} ${event.record.from}`);
    const base = event.source.available?.from ?? 0;
    const at = written?.file === event.source.file ? (written?.from ?? NaN) - base : NaN;
    return [{ number: event.number, index, file: swapped.file, at, of: swapped.of }];
  });
}

/**
 * Opens the frame that each event of the written list begins with, and holds it against the original's frame of the list
 * that came, by their pictures: they must be alike, and none of the original's frames around it more so.
 */
export async function proveSwap(
  context: Context,
  id: string,
  wanted: string | undefined,
  signal: AbortSignal,
): Promise<SwapProof> {
  const made = await swapOfRun(context, id, wanted);
  const events = await inLanes(ledBy(made), 2, async (led): Promise<SwapProof['events'][number]> => {
    const output = made.outputs[led.file];
    const said = { number: led.number, path: output?.path ?? '', at: led.at };
    if (!output || !Number.isFinite(led.at))
      return { ...said, at: 0, agrees: false, why: 'the written list does not lead to its file' };
    const why = await differs(context, output.id, led, signal).catch((error: Error) => error.message);
    return { ...said, agrees: why === null, why: why ?? '' };
  });
  return { agree: events.filter(({ agrees }) => agrees).length, events };
}

/** Calls `work` with the tuning that holds an output's baked chain, for as long as it takes. */
async function inItsColours<T>({ db }: Context, output: OutputPlan, work: (tuning: Tuning) => Promise<T>): Promise<T> {
  const colour = await legColour([output], cabinetText(db));
  try {
    const [lut] = colour.luts;
    return await work(lut ? { lut } : {});
  } finally {
    await colour.discard();
  }
}

/** So many frames before and after are looked at too. */
const around = 4;

/** Why an output's frame is not its original's; null where it is. */
async function differs(context: Context, id: string, { at, of }: Led, signal: AbortSignal): Promise<string | null> {
  const record = await recordOf(context.db, id);
  if (!record) return 'the output is no longer known';
  const planned = plannedOf(record);
  const store = await storeOr404(context, record.store);
  const [shown] = await holding(async (held) => {
    const path = await outputIn(held, planned, store.path, under(record.folder, record.path)).catch(() => null);
    const side = path === null ? null : outputSide(openOutput(planned, path), planned, planned);
    return side ? smallLumas(side, { frame: at, frames: 1 }, [], signal) : [];
  });
  if (!shown) return `${record.path} has no picture at frame ${at}`;
  const first = Math.max(0, of - around);
  const originals = await inItsColours(context, planned, (tuning) =>
    withOriginal(context, record.clipId, ({ files, description }) =>
      withInput({ clip: description, paths: files }, async (input, hands) => {
        const { video } = description;
        const side =
          video && clipSide({ clip: description, input, hands }, { map: { kind: 'every' }, rate: video.rate, pace: 1 });
        const frames = of + around + 1 - first;
        return side ? smallLumas(side, { frame: first, frames }, laidOutAs(planned, tuning), signal) : [];
      }),
    ),
  );
  return otherwise(
    originals.map((luma) => likeness(shown, luma)),
    of - first,
    of,
  );
}

/** What speaks against a picture's being the original's frame `of`, whose likeness stands at `place`; null where nothing does. */
function otherwise(likenesses: readonly (number | null)[], place: number, of: number): string | null {
  const here = likenesses[place];
  if (here === undefined) return `its original has no picture at frame ${of}`;
  if (here === null) return 'there is nothing in its picture to tell it by';
  if (here < alikeFrom) return `its picture is not the original's (${here.toFixed(2)} alike)`;
  const closest = likenesses.reduce<number>(
    (best, one, index) => ((one ?? -1) > (likenesses[best] ?? -1) ? index : best),
    place,
  );
  const there = likenesses[closest] ?? -1;
  return there > here + closer.least && 1 - there < closer.share * (1 - here)
    ? `it shows the original’s frame ${of - place + closest}, not ${of}`
    : null;
}
