import { useQuery } from '@tanstack/react-query';
import { ask } from './ask.ts';
import { frameQuery } from './useFrame.ts';

/** A frame as an image, its codes shown as they are: no chain, its own matrix. */
export function useStill(clip: string, frame: number, width: number) {
  const { data: planes, error } = useQuery(frameQuery(clip, frame, width));
  const image = useQuery({
    queryKey: ['still', clip, frame, width],
    enabled: planes !== undefined,
    staleTime: Infinity,
    gcTime: 60_000,
    queryFn: async () => {
      if (!planes) throw new Error('no frame');
      const { before } = await ask({ kind: 'picture', frame: planes, cube: null });
      return createImageBitmap(new ImageData(new Uint8ClampedArray(before), planes.width, planes.height));
    },
  });
  return { image: image.data ?? null, error: error ?? image.error };
}
