import type { BenchAnswer } from '@relay/contract/bench';
import { correctionRows } from '@relay/contract/routes/corrections';
import type { Repair } from '@relay/core/corrections/corrections';
import { toNumber } from '@relay/core/time/rational';
import { formatLength } from '@relay/core/time/timecode';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { fetchBy } from '../api/client.ts';
import { PictureChoice } from '../ui/pictureChoice.tsx';
import { problemOf } from '../ui/pieces.tsx';

async function fetchRepaired(
  clip: string,
  repair: Repair,
  from: number,
  pixels: boolean,
  signal: AbortSignal,
): Promise<string> {
  const query = { ...repair, from: from.toFixed(3), pixels: pixels ? ('yes' as const) : ('no' as const) };
  const response = await fetchBy(correctionRows.repaired, { clip, query, signal });
  return URL.createObjectURL(await response.blob());
}

/** A few seconds as they are beside the same seconds repaired, before a roll is trusted to it. */
export function RepairView({ bench, repair, frame }: { bench: BenchAnswer; repair: Repair | null; frame: number }) {
  const video = bench.description.video as NonNullable<BenchAnswer['description']['video']>;
  const [pixels, setPixels] = useState(false);
  const wanted = repair && (repair.denoise || repair.stabilise) ? repair : null;
  const from = Math.max(0, Math.min(frame / toNumber(video.rate), toNumber(video.duration) - 4));
  const {
    data: url,
    error,
    isFetching,
  } = useQuery({
    queryKey: ['repaired', bench.clip, wanted, from, pixels],
    enabled: wanted !== null,
    staleTime: Infinity,
    gcTime: 300_000,
    retry: false,
    queryFn: ({ signal }) => fetchRepaired(bench.clip, wanted as Repair, from, pixels, signal),
  });
  return (
    <>
      <div className="flex h-10 shrink-0 items-center justify-between gap-3 px-3">
        <span>
          Up to 4 seconds from {formatLength(Math.round(from * toNumber(video.rate)), video.rate)}; arrow keys move on
        </span>
        <PictureChoice
          label="Seen"
          options={['Whole', 'Pixel for pixel']}
          value={pixels ? 'Pixel for pixel' : 'Whole'}
          say={(seen) => seen}
          onChoose={(seen) => setPixels(seen === 'Pixel for pixel')}
        />
      </div>
      <div className="flex min-h-0 flex-1 flex-col items-center justify-center gap-2 p-3" aria-live="polite">
        {!wanted && (
          <p className="max-w-sm text-center">
            Nothing is repaired. Choose a repair on the right: it is tried on a few seconds before it is used.
          </p>
        )}
        {wanted && error && (
          <p role="alert">
            {problemOf(error).what}. {problemOf(error).remedy}.
          </p>
        )}
        {wanted && !error && isFetching && <p role="status">These seconds are being repaired…</p>}
        {wanted && !error && !isFetching && url && (
          <video
            key={url}
            src={url}
            aria-label="As it is on the left, repaired on the right"
            autoPlay
            loop
            muted
            controls
            className="min-h-0 w-full object-contain"
          />
        )}
        {wanted && !error && !isFetching && url && (
          <p className="flex w-full shrink-0 justify-around">
            <span>As it is</span>
            <span>Repaired</span>
          </p>
        )}
      </div>
    </>
  );
}
