import { benchRows } from '@relay/contract/routes/bench';
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { fetchBy } from '../api/client.ts';
import { planesOf } from '../api/planes.ts';

/** Frames are large: a few are kept, for stepping back and forth. */
export const frameQuery = (clip: string, frame: number, width: number) =>
  queryOptions({
    queryKey: ['frame', clip, width, frame],
    queryFn: async ({ signal }) => planesOf(await fetchBy(benchRows.frame, { clip, query: { frame, width }, signal })),
    staleTime: Infinity,
    gcTime: 20_000,
    retry: false,
    enabled: clip !== '',
  });

/** The frame of a clip in full depth; the next one is fetched ahead. */
export function useFrame(clip: string, frame: number, last: number, width: number) {
  const client = useQueryClient();
  const asked = useQuery({ ...frameQuery(clip, frame, width), placeholderData: (previous) => previous });
  useEffect(() => {
    if (!asked.data || asked.isPlaceholderData || frame >= last) return;
    void client.prefetchQuery(frameQuery(clip, frame + 1, width));
  }, [client, asked.data, asked.isPlaceholderData, clip, frame, last, width]);
  return asked;
}
