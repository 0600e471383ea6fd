import type { HashName } from '@relay/core/custody/manifest';
import { arrivalRows } from '@relay/contract/routes/arrivals';
import { rollNameProblem } from '@relay/core/custody/rollName';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { cardQuery, productionQuery, reportQuery, rollsQuery, storesQuery } from '../api/queries.ts';
import { FolderChooser, type Place } from '../ui/folderChooser.tsx';
import { plural, sayBytes, slug } from '../ui/format.ts';
import { Button, Fact, Field, inputLook, problemOf, toastProblem } from '../ui/pieces.tsx';

interface BringInProps {
  production: string;
  /** The card that was chosen already, in the bay. */
  card: Place | null;
  onClose: () => void;
  onBegun: (roll: string) => void;
}

/** A card about to come in: what is on it, what it will be called, where its copies go. */
export function BringIn({ production, card, onClose, onBegun }: BringInProps) {
  const { data: allStores = [] } = useQuery(storesQuery);
  const { data: home } = useQuery(productionQuery(production));
  const { data: known } = useQuery(rollsQuery(production));
  const rolls = known ?? [];
  const { data: report, isPending: reportComes } = useQuery(reportQuery(production, null));
  const stores = allStores.filter((store) => !store.bay);
  const [chosen, setChosen] = useState<Place | null>(card);
  const place = chosen ?? { store: '', folder: '' };
  const { data: found, error } = useQuery(cardQuery(production, place.store, place.folder));
  const [typedName, setName] = useState<string | null>(null);
  const [typedDay, setDay] = useState<string | null>(null);
  const name = typedName ?? found?.proposedName ?? '';
  // No day is proposed before it is known which was the last: the first would be taken for it by whoever is quick.
  const proposedDay =
    known === undefined || (known.length === 0 && reportComes)
      ? ''
      : (known[0]?.day ?? (report && report.clips > 0 ? report.day : 'day-1'));
  const day = typedDay ?? proposedDay;
  const [targets, setTargets] = useState<(string | null)[]>([null, null]);
  const [second, setSecond] = useState(true);
  const [folder, setFolder] = useState<string | null>(null);
  const [alsoMd5, setMd5] = useState(false);
  const [hash, setHash] = useState<HashName>('xxh128');
  const below = folder ?? slug(home?.name ?? '', 'originals');
  const storeOf = (index: number): string => targets[index] ?? stores[index]?.id ?? stores[0]?.id ?? '';
  const destinations = (second && stores.length > 1 ? [0, 1] : [0]).map((index) => ({
    store: storeOf(index),
    folder: index === 0 ? below : `${below}-copies`,
  }));
  const nameProblem = name === '' ? null : rollNameProblem(name);
  const rule = home?.copyRule;
  const enough =
    rule && destinations.length >= rule.copies && new Set(destinations.map((one) => one.store)).size >= rule.stores;
  const begin = useMutation({
    mutationFn: () =>
      ask(arrivalRows.bringIn, { production, body: { card: place, day, name, destinations, hash, alsoMd5 } }),
    onSuccess: (roll) => onBegun(roll.id),
    onError: toastProblem,
  });
  const ready =
    found !== undefined &&
    found.files > 0 &&
    name !== '' &&
    nameProblem === null &&
    day.trim() !== '' &&
    !begin.isPending;
  return (
    <form
      className="flex flex-col gap-4 p-5"
      onKeyDown={(event) => {
        if (event.key === 'Escape') onClose();
      }}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) begin.mutate();
      }}
    >
      <h2 className="text-[15px] font-semibold">Bring a card in</h2>
      {card === null ? (
        <div className="[&>div]:grid-cols-[8.5rem_1fr]">
          <FolderChooser
            withBay
            place={place.store === '' ? { store: allStores[0]?.id ?? '', folder: '' } : place}
            onChoose={setChosen}
          />
        </div>
      ) : (
        <p className="font-mono text-dim">{card.folder}</p>
      )}
      {error && (
        <p role="alert" className="text-rose">
          {problemOf(error).what}. {problemOf(error).remedy}.
        </p>
      )}
      {found && (
        <div aria-live="polite">
          <dl>
            <Fact name="On it">
              {plural(found.files, 'file')}, {sayBytes(found.bytes)}
            </Fact>
            <Fact name="Of these" mono={false}>
              {plural(found.clips, 'file')} of picture or sound
            </Fact>
            {found.hasManifest && (
              <Fact name="Manifest" mono={false}>
                comes with one; it will be checked
              </Fact>
            )}
          </dl>
          {found.recognised && (
            <p role="note" className="mt-2 flex items-baseline gap-2">
              <span aria-hidden className="size-2 shrink-0 rotate-45 bg-amber" />
              {found.recognised.says}.
            </p>
          )}
          {found.notCopied.length > 0 && (
            <p className="mt-2 flex items-baseline gap-2">
              <span aria-hidden className="size-2 shrink-0 rotate-45 bg-amber" />
              {plural(found.notCopied.length, 'thing')} on it cannot be copied: {found.notCopied[0]?.shownPath},{' '}
              {found.notCopied[0]?.why}
            </p>
          )}
        </div>
      )}
      <div className="grid grid-cols-2 gap-2">
        <Field label="Roll">
          <input
            className={`${inputLook} font-mono`}
            value={name}
            onChange={(event) => setName(event.target.value)}
            aria-invalid={nameProblem !== null}
            maxLength={60}
          />
        </Field>
        <Field label="Day">
          <input
            className={inputLook}
            value={day}
            onChange={(event) => setDay(event.target.value)}
            maxLength={60}
            list="days"
          />
        </Field>
        <datalist id="days">
          {[...new Set(rolls.map((roll) => roll.day))].map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
      </div>
      {nameProblem && (
        <p role="alert" className="text-rose">
          A roll's name takes {nameProblem}.
        </p>
      )}
      {[0, 1].slice(0, second && stores.length > 1 ? 2 : 1).map((index) => (
        <div key={index} className="grid grid-cols-[9rem_1fr] gap-2">
          <Field label={index === 0 ? 'First copy to' : 'Second copy to'}>
            <select
              className={inputLook}
              value={storeOf(index)}
              onChange={(event) => setTargets(targets.map((one, at) => (at === index ? event.target.value : one)))}
            >
              {stores.map((store) => (
                <option key={store.id} value={store.id}>
                  {store.name}
                </option>
              ))}
            </select>
          </Field>
          <Field label="In the folder">
            {index === 0 ? (
              <input
                className={`${inputLook} font-mono`}
                value={below}
                onChange={(event) => setFolder(event.target.value)}
              />
            ) : (
              <input className={`${inputLook} font-mono text-dim`} value={`${below}-copies`} readOnly />
            )}
          </Field>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2">
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-teal"
            checked={second}
            onChange={(event) => setSecond(event.target.checked)}
          />
          Second copy in the same pass
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-teal"
            checked={alsoMd5}
            onChange={(event) => setMd5(event.target.checked)}
          />
          MD5 too
        </label>
        <label className="flex items-center gap-2 text-dim">
          Hash
          <select
            className={`${inputLook} w-auto`}
            value={hash}
            onChange={(event) => setHash(event.target.value as HashName)}
          >
            <option value="xxh128">XXH3, 128 bit</option>
            <option value="xxh64">XXH64</option>
          </select>
        </label>
      </div>
      {!enough && rule && (
        <p className="flex items-baseline gap-2 text-dim">
          <span aria-hidden className="size-2 shrink-0 rotate-45 bg-amber" />
          The card will not be cleared by this: {rule.copies} copies on {rule.stores} stores are asked for.
        </p>
      )}
      <div className="flex gap-2">
        <Button main type="submit" disabled={!ready}>
          Copy and prove
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </form>
  );
}
