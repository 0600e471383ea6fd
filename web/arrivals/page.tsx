import { arrivalRows } from '@relay/contract/routes/arrivals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { RollLine } from '@relay/contract/arrivals';
import { useMemo, useState } from 'react';
import { Link, useLocation, useParams } from 'react-router';
import { ask } from '../api/client.ts';
import type { Place } from '../api/places.ts';
import { rollsQuery, rootsQuery } from '../api/queries.ts';
import { ProductionRules } from '../productions/rules.tsx';
import { rowLook } from '../ui/rowLook.ts';
import { useAddress } from '../ui/useAddress.ts';
import { sayBytes } from '../ui/format.ts';
import { useKeys } from '../ui/keys.ts';
import { Button, Key, toastProblem } from '../ui/pieces.tsx';
import { Bay } from './bay.tsx';
import { Drives } from './drives.tsx';
import { BringIn } from './bringIn.tsx';
import { LeftAside, ReadInPlace } from './reading.tsx';
import { RollDocket } from './rollDocket.tsx';
import { rollLook } from './rollState.tsx';
import { wideDocketWidth } from '../ui/docketWidth.ts';

/** A roll in the list: its picture, its name, what it holds, its state. */
const rollRow =
  'grid w-full grid-cols-[72px_minmax(120px,200px)_minmax(0,1fr)_86px] items-center gap-4 border-b border-line px-2 py-2.5 text-left';

/** Cards come in here: copied, proved, read. Folders that are safe already are read where they lie. */
export function ArrivalsPage() {
  const { production = '' } = useParams();
  const client = useQueryClient();
  const [address, setAddress] = useAddress();
  const { data: rolls = [] } = useQuery(rollsQuery(production));
  const [card, setCard] = useState<{ store: string; folder: string } | null>(null);
  const { state } = useLocation() as { state: { add?: boolean; bring?: boolean } | null };
  const [bringing, setBringing] = useState(state?.bring ?? false);
  const { data: roots = [] } = useQuery(rootsQuery);
  const [said, setReading] = useState<Place | null | undefined>(undefined);
  const [first] = roots;
  const asked = state?.add && first ? { store: '', folder: '', root: first.path } : null;
  const reading = said === undefined ? asked : said;
  const chosen = address.get('roll');
  const choose = (roll: string | null): void => {
    setBringing(false);
    setAddress({ roll });
  };
  const days = useMemo(
    () => [...new Map(rolls.map((roll) => [roll.day, rolls.filter((one) => one.day === roll.day)]))],
    [rolls],
  );
  const order = days.flatMap(([, inDay]) => inDay.map((roll) => roll.id));
  const move = (by: number) => (): void => {
    const at = chosen === null ? -1 : order.indexOf(chosen);
    const next = order[Math.min(order.length - 1, Math.max(0, at + by))];
    if (next) choose(next);
  };
  const bring = (place: { store: string; folder: string } | null): void => {
    setCard(place);
    setBringing(true);
  };
  const verify = useMutation({
    mutationFn: (roll: string) => ask(arrivalRows.verify, { roll }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['rolls'] }),
    onError: toastProblem,
  });
  useKeys({
    ArrowDown: move(1),
    ArrowUp: move(-1),
    b: () => bring(null),
    v: () => {
      if (chosen) verify.mutate(chosen);
    },
    Escape: () => (bringing ? setBringing(false) : choose(null)),
  });
  return (
    <>
      <div className="min-w-0 flex-1 overflow-auto">
        <div className="flex w-full flex-col gap-7 px-6 py-5">
          <div className="flex items-center gap-3">
            <h2 className="text-lg font-semibold">Cards and rolls</h2>
            <Link to={`/p/${production}/arrivals/inlets`} className="text-dim underline underline-offset-4">
              Inlets
            </Link>
            <Link to={`/p/${production}/arrivals/originals`} className="text-dim underline underline-offset-4">
              Originals
            </Link>
            <span className="ml-auto flex items-center gap-2">
              <ProductionRules production={production} />
              <Link
                to={`/p/${production}/arrivals/report`}
                className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
              >
                Day report
              </Link>
              <Button main={!bringing} onClick={() => bring(null)}>
                Bring a card in… <Key on="clay">B</Key>
              </Button>
            </span>
          </div>
          <Drives
            production={production}
            onBring={bring}
            onRead={(root) => setReading({ store: '', folder: '', root })}
          />
          <Bay onBring={bring} />
          {rolls.length === 0 ? (
            <p className="max-w-2xl border-t border-line pt-4 text-dim">
              <span className="font-semibold text-ink">No card has come in yet.</span> Put one into the reader, or
              choose any folder. It is read once, copied to one or two stores, read back and compared; then its roll
              says whether the card may be cleared.
            </p>
          ) : (
            days.map(([day, inDay]) => (
              <section key={day} aria-label={`Rolls of ${day}`}>
                <h3 className="mb-1 font-semibold text-dim">{day}</h3>
                <ul role="listbox" aria-label={`Rolls of ${day}`} className="border-t border-line">
                  {inDay.map((roll) => (
                    <Roll key={roll.id} roll={roll} chosen={roll.id === chosen} onChoose={() => choose(roll.id)} />
                  ))}
                </ul>
              </section>
            ))
          )}
          <ReadInPlace production={production} wanted={reading} onWanted={setReading} />
          <LeftAside production={production} />
        </div>
      </div>
      {(bringing || chosen !== null) && (
        <aside
          aria-label="Docket"
          className={`${wideDocketWidth} shrink-0 overflow-auto border-l border-line bg-raised/40`}
        >
          {bringing ? (
            <BringIn
              key={JSON.stringify(card)}
              production={production}
              card={card}
              onClose={() => setBringing(false)}
              onBegun={(roll) => {
                void client.invalidateQueries({ queryKey: ['rolls'] });
                choose(roll);
              }}
            />
          ) : (
            <RollDocket id={chosen ?? ''} onVerify={(roll) => verify.mutate(roll)} />
          )}
        </aside>
      )}
    </>
  );
}

/** One roll: how far each copy is, as lanes, and whether its card may be cleared. */
function Roll({ roll, chosen, onChoose }: { roll: RollLine; chosen: boolean; onChoose: () => void }) {
  const look = rollLook(roll);
  const share = roll.state === 'proved' ? 1 : roll.bytes > 0 ? roll.bytesDone / roll.bytes : 0;
  return (
    <li role="option" aria-selected={chosen}>
      <button type="button" onClick={onChoose} className={`${rollRow} ${rowLook({ chosen, at: chosen })}`}>
        <span className="truncate font-semibold">{roll.name}</span>
        <span className="flex flex-col gap-1.5">
          {roll.copies.map((copy) => (
            <span key={copy.id} className="flex items-center gap-2">
              <span className="h-[5px] flex-1 overflow-hidden rounded-full bg-lane">
                <span
                  className={`block h-full rounded-full ${copy.problem ? 'bg-rose' : roll.state === 'proved' ? 'bg-teal' : 'bg-sky'}`}
                  style={{
                    width: `${100 * (roll.state === 'copying' ? share : roll.files > 0 ? copy.filesProved / roll.files : 0)}%`,
                  }}
                />
              </span>
              <span className="w-24 truncate text-[11px] leading-4 text-dim">{copy.storeName}</span>
            </span>
          ))}
        </span>
        <span className="flex min-w-0 items-baseline gap-2">
          {look.mark}
          <span className={`truncate ${roll.clearing.clear ? '' : 'text-dim'}`} title={look.says}>
            {look.says}
          </span>
        </span>
        <span className="text-right font-mono text-dim">{sayBytes(roll.bytes)}</span>
      </button>
    </li>
  );
}
