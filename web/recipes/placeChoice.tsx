import type { OutputPlace } from '@relay/core/recipe/recipe';
import { useQuery } from '@tanstack/react-query';
import { storesQuery } from '../api/queries.ts';
import { selectLook } from '../corrections/row.tsx';
import { inputLook } from '../ui/pieces.tsx';

const whereRunGoes = 'where the run goes';

interface PlaceChoiceProps {
  of: string;
  /** Null where it goes where the run goes. */
  place: OutputPlace | null;
  onPlace: (place: OutputPlace | null) => void;
}

/** The place that a deliverable goes to unless a run says otherwise: a store, and a folder of it. */
export function PlaceChoice({ of, place, onPlace }: PlaceChoiceProps) {
  const { data: all = [] } = useQuery(storesQuery);
  const stores = all.filter((one) => !one.bay && !one.readOnly);
  const known = place === null || stores.some(({ id }) => id === place.store);
  return (
    <>
      <select
        aria-label={`Where the ${of} goes`}
        value={place?.store ?? whereRunGoes}
        onChange={({ target }) =>
          onPlace(target.value === whereRunGoes ? null : { store: target.value, folder: place?.folder ?? '' })
        }
        className={`${selectLook} h-7`}
      >
        <option value={whereRunGoes}>where the run goes</option>
        {stores.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
        {!known && <option value={place.store}>{place.store}, not known here</option>}
      </select>
      {place && (
        <input
          aria-label={`Folder that the ${of} lies below`}
          placeholder="the store itself"
          value={place.folder}
          spellCheck={false}
          onChange={({ target }) => onPlace({ ...place, folder: target.value })}
          className={`${inputLook} font-mono`}
        />
      )}
    </>
  );
}
