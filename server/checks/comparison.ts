import { readFile } from 'node:fs/promises';
import type { ComparedSide, Comparison, pictureQuery, PlayedQuery, Replaced, stillQuery } from '@relay/contract/checks';
import { filesOfPart, filesWhole } from '@relay/core/clip/part';
import { under } from '@relay/core/naming/under';
import { codecRow, hasPicture } from '@relay/core/recipe/codecs';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { besideOriginal, besideOutput, type Compared, type Placed } from '@relay/core/shape/compared';
import { stacked } from '@relay/core/shape/stacked';
import { channelsOf, originalSide, outputSide, type Side } from '@relay/media/compare/side';
import { smallPicture } from '@relay/media/compare/small';
import { pairStill } from '@relay/media/compare/still';
import { playPair, playPairBack, type Pair } from '@relay/media/compare/stream';
import { openOutput } from '@relay/media/leg/open';
import { withInput } from '@relay/media/process/joined';
import { holding, type Held } from '@relay/work/disk/held';
import { outputIn } from '@relay/work/leg/outputPlace';
import type { Response } from 'express';
import type { z } from 'zod';
import { asAsked, handOn } from '../asked.ts';
import { comparedPath, keepPicture } from '../clips/cache.ts';
import { withOriginal } from '../clips/original.ts';
import { storeOr404, type Context } from '../context.ts';
import { notThere, Refused } from '../http.ts';
import { madeOf } from './reach.ts';
import { plannedOf, recordOf, type OutputRecord } from './outputs.ts';
import { originalReplaced, outputReplaced, type Known } from './replaced.ts';

/** An output beside its original, or beside another output of the same clip: seen, played and heard in step. */

interface Beside {
  pair: Pair;
  compared: Compared;
  record: OutputRecord;
  /** What the two are called, by codec and depth. */
  names: { output: Named; against: Named };
  /** Whether something else lies in their places by now. */
  replaced: { output: AskReplaced; against: AskReplaced };
}

type AskReplaced = () => Promise<Replaced | null>;

type Named = Pick<ComparedSide, 'title' | 'codec' | 'bitDepth'>;

async function pictured(context: Context, id: string): Promise<{ record: OutputRecord; planned: OutputPlan }> {
  const record = await recordOf(context.db, id);
  if (!record) throw notThere('The output');
  const planned = plannedOf(record);
  if (!hasPicture(planned))
    throw new Refused(404, { what: `${record.path} has no picture`, remedy: 'Listen to it in its clip' });
  return { record, planned };
}

/** An output as a side, held open. */
async function opened(
  context: Context,
  held: Held,
  { record, planned }: { record: OutputRecord; planned: OutputPlan },
  beside: OutputPlan,
): Promise<{ side: Side; replaced: AskReplaced }> {
  const store = await storeOr404(context, record.store);
  const path = await outputIn(held, planned, store.path, under(record.folder, record.path)).catch(() => null);
  const side = path === null ? null : outputSide(openOutput(planned, path), planned, beside);
  if (!side || path === null)
    throw new Refused(404, {
      what: `${record.path} is not there (any more)`,
      remedy: 'Retry its leg to make it again',
    });
  const { sizeBytes, xxh3, madeAt: at } = record;
  return { side, replaced: () => outputReplaced(path, { sizeBytes, xxh3, at }) };
}

function namedBy({ deliverable, codec }: OutputPlan): Named {
  const { name, bitDepth } = codecRow(codec);
  return { title: deliverable, codec: name, bitDepth };
}

function placedBy({ video: { raster, pixelAspect, geometry } }: OutputPlan): Placed {
  return { raster, pixelAspect, geometry };
}

/** Calls `work` with an output and what it is held against, both held open for as long as it takes. */
async function beside<T>(
  context: Context,
  id: string,
  against: string,
  work: (both: Beside) => Promise<T>,
): Promise<T> {
  const mine = await pictured(context, id);
  const { planned, record } = mine;
  const { rate } = planned.video;
  const frames = record.proof?.frames ?? planned.video.frames;
  const original = record.plan.original.video;
  if (!original) throw notThere('The picture');
  return holding(async (held) => {
    const first = await opened(context, held, mine, planned);
    const both = (second: Side, compared: Compared, name: Named, replaced: AskReplaced): Promise<T> =>
      work({
        record,
        compared,
        replaced: { output: first.replaced, against: replaced },
        pair: { first: first.side, second, rate, frames },
        names: { output: namedBy(planned), against: name },
      });
    if (against !== 'original') {
      const other = await pictured(context, against);
      if (other.record.clipId !== record.clipId) throw notThere('The output of this clip');
      const second = await opened(context, held, other, planned);
      const lying = besideOutput(placedBy(planned), placedBy(other.planned), original);
      return both(second.side, lying, namedBy(other.planned), second.replaced);
    }
    return withOriginal(context, record.clipId, ({ files, description, modifiedAt }) => {
      // Of a part, what its plan says of it; its files are sought in by the frame that is wanted.
      const shot = record.plan.original.part ? record.plan.original : description;
      const paths = filesOfPart(shot, description, files);
      return withInput({ paths, clip: filesWhole(shot) }, async (input, hands) => {
        const { video } = shot;
        const second = originalSide({ clip: shot, input, hands }, planned);
        if (!second || !video) throw notThere('The picture');
        const { codec, bitDepth } = video;
        const named = { title: 'Original', codec, bitDepth };
        const { sizeBytes, modifiedAt: time } = record.plan.original;
        // One that was found elsewhere carries the time of where it was found; of several nobody wrote them all down.
        const isFound = description.modifiedAt === time;
        const known: Known = {
          ...{ sizeBytes, xxh3: record.originalXxh3, at: record.madeAt },
          ...(paths.length === 1 ? { times: [time, isFound ? (modifiedAt?.toISOString() ?? null) : null] } : {}),
        };
        return both(second, besideOriginal(placedBy(planned), video), named, () => originalReplaced(paths, known));
      });
    });
  });
}

/** How both lie beside each other, and what else of the clip there is. */
export async function comparisonOf(context: Context, id: string, against: string): Promise<Comparison> {
  return beside(context, id, against, async ({ pair, compared, names, record, replaced }) => {
    const { raster, first, second } = stacked(pair.first.light, pair.second.light);
    return {
      output: {
        ...names.output,
        raster: pair.first.raster,
        box: compared.first,
        played: first,
        channels: channelsOf(pair.first),
        replaced: await replaced.output(),
      },
      against: {
        ...names.against,
        raster: pair.second.raster,
        box: compared.second,
        played: second,
        channels: channelsOf(pair.second),
        replaced: await replaced.against(),
      },
      frames: pair.frames,
      rate: pair.rate,
      played: raster,
      others: (await madeOf(context.db, record.clipId))
        .filter(({ line, planned }) => line.id !== record.id && hasPicture(planned))
        .map(({ line: { id, deliverable, run } }) => ({ id, deliverable, run })),
    };
  });
}

/** Sends what is played of both, as it is made. */
export async function sendPlayed(context: Context, response: Response, id: string, asked: PlayedQuery): Promise<void> {
  await asAsked('play', response, async (gone) =>
    beside(context, id, asked.against, async ({ pair }) => {
      const { from, to, every, backwards, hear, channel = null } = asked;
      const last = pair.frames - 1;
      response.type('video/mp4').set('Cache-Control', 'no-store');
      const played = {
        from: Math.min(from, last),
        to: backwards ? (to ?? 0) - 1 : Math.min(to ?? pair.frames, pair.frames),
        every,
        sound:
          hear === 'nothing' || backwards ? null : ({ of: hear === 'output' ? 'first' : 'second', channel } as const),
      };
      await (backwards ? playPairBack : playPair)(pair, played, handOn(response, gone), gone);
      response.end();
    }),
  );
}

/** Sends one of both at a frame, in full depth. */
export async function sendStill(
  context: Context,
  response: Response,
  id: string,
  { against, side, frame, width }: z.output<typeof stillQuery>,
): Promise<void> {
  await beside(context, id, against, async ({ pair }) => {
    const shown = side === 'output' ? pair.first : pair.second;
    await asAsked('picture', response, async (unwanted) => {
      const still = await pairStill(shown, Math.min(frame, pair.frames - 1), width, unwanted);
      if (unwanted.aborted) return;
      if (!still)
        throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Step back to one that exists' });
      response.set({
        'Cache-Control': 'private, max-age=600',
        'X-Width': String(still.width),
        'X-Height': String(still.height),
        'X-Matrix': shown.matrix,
      });
      response.type('application/octet-stream').send(still.planes);
    });
  });
}

/**
 * Sends a small picture of an output, or of its original at the same frame. It is kept for as long as the output is what
 * it was.
 */
export async function sendPicture(
  context: Context,
  response: Response,
  id: string,
  { side, frame }: z.output<typeof pictureQuery>,
): Promise<void> {
  const { record, planned } = await pictured(context, id);
  const at = Math.min(frame, (record.proof?.frames ?? planned.video.frames) - 1);
  const kept = record.xxh3 === null ? null : comparedPath(context.cacheFolder, record, side, at);
  const send = (picture: Buffer): void => {
    response.set('Cache-Control', 'private, max-age=600').type('image/jpeg').send(picture);
  };
  const known = kept === null ? null : await readFile(kept).catch(() => null);
  if (known) {
    send(known);
    return;
  }
  await asAsked('picture', response, async (unwanted) => {
    const made =
      side === 'original'
        ? await beside(context, id, 'original', ({ pair }) => smallPicture(pair.second, at, unwanted))
        : await holding(async (held) =>
            smallPicture((await opened(context, held, { record, planned }, planned)).side, at, unwanted),
          );
    if (unwanted.aborted) return;
    if (!made) throw new Refused(404, { what: 'There is no picture at this frame', remedy: 'Look at an earlier one' });
    if (kept !== null) await keepPicture(kept, made);
    send(made);
  });
}
