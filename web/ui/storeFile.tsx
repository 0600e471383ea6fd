import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { storesQuery } from '../api/queries.ts';
import type { Place } from '../api/places.ts';
import { FolderChooser } from './folderChooser.tsx';
import { Button, Field, inputLook } from './pieces.tsx';

/** Brings a file in from an allowed store: a folder walked to, and a file's name in it. */
export function StoreFile({
  example,
  busy,
  onChoose,
  onClose,
}: {
  /** Such a name. */
  example: string;
  busy: boolean;
  onChoose: (place: { store: string; path: string }) => void;
  onClose: () => void;
}) {
  const { data: stores } = useQuery(storesQuery);
  const [chosen, setPlace] = useState<Place | null>(null);
  const [name, setName] = useState('');
  const form = useRef<HTMLFormElement>(null);
  // It opens below what asked for it, which may be the end of what is seen.
  useEffect(() => {
    form.current?.scrollIntoView({ block: 'nearest' });
  }, []);
  const place = chosen ?? { store: stores?.[0]?.id ?? '', folder: '' };
  return (
    <form
      ref={form}
      className="flex max-w-3xl flex-col gap-4 p-6"
      onSubmit={(event) => {
        event.preventDefault();
        onChoose({ store: place.store, path: [place.folder, name.trim()].filter(Boolean).join('/') });
      }}
    >
      <h2 className="text-[15px] font-semibold">From a store</h2>
      <FolderChooser place={place} onChoose={setPlace} />
      <Field label="File in this folder">
        <input
          className={`${inputLook} font-mono`}
          value={name}
          onChange={(event) => setName(event.target.value)}
          placeholder={example}
          required
        />
      </Field>
      <div className="flex gap-2">
        <Button main type="submit" disabled={busy || name.trim() === ''}>
          Bring in
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </form>
  );
}
