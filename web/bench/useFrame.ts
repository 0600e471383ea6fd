import { benchRows } from '@relay/contract/routes/bench';
import { queryOptions, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { fetchBy } from '../api/client.ts';
import type { FrameData } from './messages.ts';

async function fetchFrame(clip: string, frame: number, width: number, signal: AbortSignal): Promise<FrameData> {
  const response = await fetchBy(benchRows.frame, { clip, query: { frame, width }, signal });
  const number = (name: string): number => Number(response.headers.get(name));
  return {
    width: number('x-width'),
    height: number('x-height'),
    matrix: response.headers.get('x-matrix') ?? 'bt709',
    planes: new Uint16Array(await response.arrayBuffer()),
  };
}

/** Frames are large: a few are kept, for stepping back and forth. */
export const frameQuery = (clip: string, frame: number, width: number) =>
  queryOptions({
    queryKey: ['frame', clip, width, frame],
    queryFn: ({ signal }) => fetchFrame(clip, frame, width, signal),
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
