import { useQueryClient } from '@tanstack/react-query';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import type { OutputPlace } from '@relay/core/recipe/recipe';
import { AddFolder } from '../ui/addFolder.tsx';
import { dialogSheet, dialogVeil } from '../ui/dialogLook.ts';
import { slug } from '../ui/format.ts';
import { Field, inputLook } from '../ui/pieces.tsx';
import { without } from '../ui/without.ts';
import { folderOn } from './runDraft.ts';
import type { Preparing } from './useRunDraft.ts';

const another = 'another place';
const withTheRest = 'with the rest';

interface OutputPlacesProps {
  preparing: Preparing;
  production: string;
}

/**
 * Where outputs go: a store and a folder of it for all of them, and others for deliverables that go elsewhere. A place
 * of this machine that is no store yet becomes one.
 */
export function OutputPlaces({ preparing, production }: OutputPlacesProps) {
  const { form, draft, recipe, stores, originals } = preparing;
  const client = useQueryClient();
  /** Whose place is added: a deliverable's, by its folder, or the run's. */
  const [adding, setAdding] = useState<{ deliverable: string | null } | null>(null);
  const deliverables = recipe?.definition.deliverables ?? [];
  const say = (deliverable: string, place: OutputPlace | null): void =>
    form.setValue('places', place ? { ...draft.places, [deliverable]: place } : without(draft.places, deliverable), {
      shouldDirty: true,
    });
  const set = (place: Partial<OutputPlace>): void => {
    for (const [name, value] of Object.entries(place) as ['store' | 'folder', string][])
      form.setValue(name, value, { shouldDirty: true, shouldValidate: true });
  };
  return (
    <div className="flex flex-col gap-2">
      <div className="grid grid-cols-[9rem_1fr] gap-2">
        <Field label="Store">
          <select
            className={inputLook}
            value={draft.store}
            onChange={({ target }) =>
              target.value === another
                ? setAdding({ deliverable: null })
                : set({ store: target.value, folder: folderOn(target.value, draft.folder, originals) })
            }
          >
            <StoreOptions stores={stores} />
          </select>
        </Field>
        <Field label="Folder">
          <input className={`${inputLook} font-mono`} {...form.register('folder')} />
        </Field>
      </div>
      {deliverables.length > 1 &&
        deliverables.map(({ name, folder: deliverable }) => (
          <PlaceOfOne
            key={deliverable}
            name={name}
            place={draft.places[deliverable] ?? null}
            stores={stores}
            onPlace={(place) => say(deliverable, place)}
            begin={(store) => ({ store, folder: folderOn(store, draft.folder, originals) })}
            onAnother={() => setAdding({ deliverable })}
          />
        ))}
      <Dialog.Root open={adding !== null} onOpenChange={() => setAdding(null)}>
        <Dialog.Portal>
          <Dialog.Overlay className={dialogVeil} />
          <Dialog.Content aria-describedby={undefined} className={`${dialogSheet} w-[760px]`}>
            <Dialog.Title className="mb-4 text-lg font-semibold">Where the outputs go</Dialog.Title>
            <AddFolder
              use="make"
              action="Make them here"
              says={`They lie in a folder ${slug(production, 'outputs')} of it. It stays on the list of stores.`}
              onAdd={async ({ store, folder }) => {
                await client.invalidateQueries({ queryKey: ['stores'] });
                const place = { store, folder: [folder, slug(production, 'outputs')].filter(Boolean).join('/') };
                if (adding?.deliverable) say(adding.deliverable, place);
                else set(place);
                setAdding(null);
              }}
              onClose={() => setAdding(null)}
            />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </div>
  );
}

function StoreOptions({ stores }: Pick<Preparing, 'stores'>) {
  return (
    <>
      {stores.map((one) => (
        <option key={one.id} value={one.id}>
          {one.name}
        </option>
      ))}
      <option value={another}>Another place…</option>
    </>
  );
}

interface PlaceOfOneProps extends Pick<Preparing, 'stores'> {
  name: string;
  /** Null where it goes with the rest. */
  place: OutputPlace | null;
  onPlace: (place: OutputPlace | null) => void;
  /** What a place on a store begins with. */
  begin: (store: string) => OutputPlace;
  onAnother: () => void;
}

/** Where one deliverable goes. */
function PlaceOfOne({ name, place, stores, onPlace, begin, onAnother }: PlaceOfOneProps) {
  const of = name.toLowerCase();
  const choose = (value: string): void => {
    if (value === another) onAnother();
    else onPlace(value === withTheRest ? null : begin(value));
  };
  return (
    <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-2">
      <span className="truncate text-dim">{name}</span>
      <select
        aria-label={`Where the ${of} goes`}
        className={inputLook}
        value={place?.store ?? withTheRest}
        onChange={({ target }) => choose(target.value)}
      >
        <option value={withTheRest}>with the rest</option>
        {place && !stores.some(({ id }) => id === place.store) && (
          <option value={place.store}>{place.store}, not known here</option>
        )}
        <StoreOptions stores={stores} />
      </select>
      {place && (
        <input
          aria-label={`Folder of the ${of}`}
          className={`${inputLook} col-start-2 font-mono`}
          value={place.folder}
          onChange={({ target }) => onPlace({ ...place, folder: target.value })}
        />
      )}
    </div>
  );
}
