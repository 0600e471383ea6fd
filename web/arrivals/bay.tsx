import { arrivalRows } from '@relay/contract/routes/arrivals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ask } from '../api/client.ts';
import { bayQuery, rootsQuery, storesQuery } from '../api/queries.ts';
import { Button, toastProblem } from '../ui/pieces.tsx';

/**
 * The simulated card reader: cards are put into its slots and pulled out, whoever is reading them. It stands back as soon
 * as anything real is there.
 */
export function Bay({ onBring }: { onBring: (card: { store: string; folder: string }) => void }) {
  const client = useQueryClient();
  const { data: bay } = useQuery(bayQuery);
  const move = useMutation({
    mutationFn: (body: { card: string; slot: string | null }) => ask(arrivalRows.moveCard, { body }),
    onSuccess: (now) => {
      client.setQueryData(['bay'], now);
      void client.invalidateQueries({ queryKey: ['card'] });
      void client.invalidateQueries({ queryKey: ['folders'] });
    },
    onError: toastProblem,
  });
  const { data: stores } = useQuery(storesQuery);
  const { data: roots } = useQuery(rootsQuery);
  if (!bay || !stores || !roots) return null;
  const real = stores.some((store) => !store.demo) || roots.some((root) => root.kind !== 'folder');
  const free = bay.slots.find((slot) => slot.card === null)?.slot ?? null;
  return (
    <details open={!real}>
      <summary className="mb-2 w-fit cursor-pointer font-semibold text-dim">
        Card bay <span className="font-normal text-faint">simulated reader with the demo's cards</span>
      </summary>
      <div className="flex flex-wrap gap-3">
        {bay.slots.map(({ slot, card, folder }, index) => (
          <div
            key={slot}
            className={`flex h-[76px] w-60 flex-col justify-between rounded-lg border px-3 py-2 ${card ? 'border-line bg-raised' : 'border-dashed border-line'}`}
          >
            <span className="flex items-baseline justify-between">
              <span className="text-faint">Slot {index + 1}</span>
              {card && <span className="font-mono">{card}</span>}
            </span>
            {card ? (
              <span className="flex gap-2">
                <Button className="h-7 px-2.5" onClick={() => onBring({ store: bay.store, folder })}>
                  Bring in…
                </Button>
                <Button className="h-7 px-2.5" onClick={() => move.mutate({ card, slot: null })}>
                  Pull out
                </Button>
              </span>
            ) : (
              <span className="text-dim">empty</span>
            )}
          </div>
        ))}
        {bay.tray.length > 0 && (
          <div className="flex min-h-[76px] flex-col justify-between rounded-lg px-3 py-2">
            <span className="text-faint">Beside it</span>
            <span className="flex flex-wrap gap-2">
              {bay.tray.map((card) => (
                // The next free slot is known once the card before is in.
                <Button
                  key={card}
                  className="h-7 px-2.5"
                  disabled={free === null || move.isPending}
                  title={free === null ? 'Both slots are taken' : undefined}
                  onClick={() => move.mutate({ card, slot: free })}
                >
                  Put in {card}
                </Button>
              ))}
            </span>
          </div>
        )}
      </div>
    </details>
  );
}
