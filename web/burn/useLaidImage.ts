import { useQuery } from '@tanstack/react-query';

/** A kept picture, by its hash, for drawing; null until it is there. */
export function useLaidImage(hash: string | undefined): ImageBitmap | null {
  const { data } = useQuery({
    queryKey: ['laid-image', hash],
    enabled: hash !== undefined,
    staleTime: Infinity,
    retry: false,
    queryFn: async () => {
      const response = await fetch(`/api/images/${hash}`);
      if (!response.ok) throw new Error('the image is no longer kept');
      return createImageBitmap(await response.blob());
    },
  });
  return data ?? null;
}
