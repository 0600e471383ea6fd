import type { OutputPlace } from '@relay/core/recipe/recipe';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { storesQuery } from '../api/queries.ts';
import { FolderChooser } from '../ui/folderChooser.tsx';
import { Button, Field, inputLook } from '../ui/pieces.tsx';
import type { Part } from './inletPart.ts';

/** As the contract has it. */
const mostFolders = 8;

/** What an inlet takes up: what arrives in folders, or every roll that is proved. */
export function InletSource({ says: { source }, say }: Part) {
  // The folders that were chosen come back with their kind.
  const [kept, setKept] = useState(source.kind === 'folders' ? source.folders : []);
  const { data: stores = [] } = useQuery(storesQuery);
  const folders = source.kind === 'folders' ? source.folders : [];
  const set = (now: readonly OutputPlace[]): void => {
    setKept([...now]);
    say({ source: { kind: 'folders', folders: [...now] } });
  };
  const another = (): OutputPlace => ({ store: folders.at(-1)?.store ?? stores[0]?.id ?? '', folder: '' });
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="sr-only">What is taken up</legend>
      <Field label="What is taken up">
        <select
          className={inputLook}
          value={source.kind}
          onChange={({ target }) =>
            target.value === 'rolls' ? say({ source: { kind: 'rolls' } }) : set(kept.length > 0 ? kept : [another()])
          }
        >
          <option value="folders">what arrives in a folder</option>
          <option value="rolls">every roll of this production that is proved from now on</option>
        </select>
      </Field>
      {folders.map((place, index) => (
        <Folder
          key={index}
          number={folders.length > 1 ? index + 1 : null}
          place={place}
          onChoose={(now) => set(folders.map((one, at) => (at === index ? now : one)))}
          onTakeAway={() => set(folders.filter((_, at) => at !== index))}
        />
      ))}
      {source.kind === 'folders' && folders.length < mostFolders && (
        <Button className="h-7 w-fit px-2.5" onClick={() => set([...folders, another()])}>
          Another folder
        </Button>
      )}
    </fieldset>
  );
}

interface FolderProps {
  /** Which of several it is; null for the only one. */
  number: number | null;
  place: OutputPlace;
  onChoose: (place: OutputPlace) => void;
  onTakeAway: () => void;
}

function Folder({ number, place, onChoose, onTakeAway }: FolderProps) {
  const { data: stores = [] } = useQuery(storesQuery);
  const made = stores.some(({ id, readOnly }) => id === place.store && !readOnly);
  return (
    <div className="flex flex-col gap-2">
      <div className="[&>div]:h-56 [&>div]:grid-cols-[8.5rem_1fr]">
        <FolderChooser
          place={place}
          onChoose={({ store, folder }) => onChoose({ store, folder })}
          {...(made ? { missing: 'It is not there yet: it is made with the inlet.' } : {})}
        />
      </div>
      <div className="flex items-end gap-2">
        <div className="min-w-0 flex-1">
          <Field label={number === null ? 'Its folder' : `Folder ${number}`}>
            <input
              className={`${inputLook} font-mono`}
              placeholder="the store itself"
              value={place.folder}
              spellCheck={false}
              onChange={({ target }) => onChoose({ ...place, folder: target.value })}
            />
          </Field>
        </div>
        {number !== null && (
          <Button aria-label={`Take folder ${number} away`} onClick={onTakeAway}>
            Take away
          </Button>
        )}
      </div>
    </div>
  );
}
