import type { Comparison } from '@relay/contract/checks';
import { checkRows } from '@relay/contract/routes/checks';
import { queryOptions, useQuery } from '@tanstack/react-query';
import { fetchBy } from '../api/client.ts';
import { planesOf } from '../api/planes.ts';
import { wantedWidth, type Zoom } from './view.ts';

interface Wanted {
  output: string;
  against: string;
  side: 'output' | 'against';
  frame: number;
  width: number;
}

const stillQuery = ({ output, ...query }: Wanted, enabled: boolean) =>
  queryOptions({
    queryKey: ['still', output, query],
    queryFn: async ({ signal }) => planesOf(await fetchBy(checkRows.still, { output, query, signal })),
    staleTime: Infinity,
    // A few are kept, for stepping back and forth; whole ones of large originals take 50 MB each.
    gcTime: query.width > 2048 ? 2_000 : 15_000,
    retry: false,
    enabled,
  });

interface StillsProps {
  output: string;
  against: string;
  both: Comparison | undefined;
  frame: number;
  zoom: Zoom;
  /** Canvas dots to the plane's unit; 0 before there is a canvas. */
  scale: number;
  /** Nothing is asked for while it plays. */
  playing: boolean;
}

/** Both pictures of a frame in full depth, as large as they are seen. */
export function useStills({ output, against, both, frame, zoom, scale, playing }: StillsProps) {
  const enabled = both !== undefined && scale > 0 && !playing;
  const wanted = (side: Wanted['side']): Wanted => ({
    output,
    against,
    side,
    frame,
    width: both ? wantedWidth(both, side, zoom, scale) : 16,
  });
  return {
    output: useQuery(stillQuery(wanted('output'), enabled)),
    against: useQuery(stillQuery(wanted('against'), enabled)),
  };
}
