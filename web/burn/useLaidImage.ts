import { recipeRows } from '@relay/contract/routes/recipes';
import { useQuery } from '@tanstack/react-query';
import { fetchBy } from '../api/client.ts';

/** A kept picture, by its hash, for drawing; null until it is there. */
export function useLaidImage(hash: string | undefined): ImageBitmap | null {
  const { data } = useQuery({
    queryKey: ['laid-image', hash],
    enabled: hash !== undefined,
    staleTime: Infinity,
    retry: false,
    queryFn: async () => {
      const response = await fetchBy(recipeRows.image, { hash: hash ?? '' });
      return createImageBitmap(await response.blob());
    },
  });
  return data ?? null;
}
