import { siteRows } from '@relay/contract/routes/site';
import type { ProductionAnswer } from '@relay/contract/site';
import type { CopyRule } from '@relay/core/custody/clearing';
import { formatRate, standardRates } from '@relay/core/time/rate';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronDown } from 'lucide-react';
import { Popover } from 'radix-ui';
import { ask } from '../api/client.ts';
import { productionQuery } from '../api/queries.ts';
import { sayCopyRule } from './sayCopyRule.ts';
import { Button, Field, inputLook, toastProblem } from '../ui/pieces.tsx';

/** What a production asks for: copies before a card may be cleared, and its own rate, that findings compare with. */
export function ProductionRules({ production }: { production: string }) {
  const client = useQueryClient();
  const { data } = useQuery(productionQuery(production));
  const change = useMutation({
    mutationFn: (body: Partial<Pick<ProductionAnswer, 'rate' | 'copyRule'>>) =>
      ask(siteRows.changeProduction, { production, body }),
    onSuccess: (made) => {
      client.setQueryData(productionQuery(production).queryKey, made);
      for (const key of ['rolls', 'clips']) void client.invalidateQueries({ queryKey: [key] });
    },
    onError: toastProblem,
  });
  if (!data) return null;
  // What was said is shown at once; where it is refused, what was before comes back.
  const { copies, stores, oneDisk = false } = (change.isPending && change.variables.copyRule) || data.copyRule;
  const rule = (part: Partial<CopyRule>) => change.mutate({ copyRule: { copies, stores, oneDisk, ...part } });
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button>
          Asks for {sayCopyRule(data.copyRule)} <ChevronDown className="size-3.5 text-faint" aria-hidden />
        </Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-30 flex w-72 flex-col gap-3 rounded-lg border border-line bg-sheet p-4"
        >
          <p className="text-dim">
            A card may be cleared when every file of it is proved in so many copies, on so many{' '}
            {oneDisk ? 'stores.' : 'disks: what lies on one disk goes with it.'}
          </p>
          <div className="grid grid-cols-2 gap-3">
            <Field label="Copies">
              <select
                className={inputLook}
                value={copies}
                onChange={(event) => rule({ copies: Number(event.target.value) })}
              >
                {[1, 2, 3].map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </Field>
            <Field label={oneDisk ? 'Stores' : 'Disks'}>
              <select
                className={inputLook}
                value={stores}
                onChange={(event) => rule({ stores: Number(event.target.value) })}
              >
                {[1, 2, 3].map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </select>
            </Field>
          </div>
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={oneDisk} onChange={(event) => rule({ oneDisk: event.target.checked })} />
            Stores on one disk count as well
          </label>
          <Field label="The production's rate">
            <select
              className={inputLook}
              value={data.rate ? formatRate(data.rate) : ''}
              onChange={(event) =>
                change.mutate({
                  rate: standardRates.find(({ rate }) => formatRate(rate) === event.target.value)?.rate ?? null,
                })
              }
            >
              <option value="">not said</option>
              {standardRates.map(({ rate }) => (
                <option key={formatRate(rate)}>{formatRate(rate)}</option>
              ))}
            </select>
          </Field>
          <p className="text-dim">Clips at another rate get a note.</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
