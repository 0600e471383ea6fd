import { useQueryClient } from '@tanstack/react-query';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { AddFolder } from '../ui/addFolder.tsx';
import { dialogSheet, dialogVeil } from '../ui/dialogLook.ts';
import { slug } from '../ui/format.ts';
import { Field, inputLook } from '../ui/pieces.tsx';
import type { Preparing } from './useRunDraft.ts';

const another = 'another place';

/** Where outputs go: a store and a folder in it, or a place of this machine that becomes a store. */
export function OutputPlace({ preparing, production }: { preparing: Preparing; production: string }) {
  const { draft, change, stores } = preparing;
  const [adding, setAdding] = useState(false);
  const client = useQueryClient();
  return (
    <div className="grid grid-cols-[9rem_1fr] gap-2">
      <Field label="Store">
        <select
          className={inputLook}
          value={draft.store}
          onChange={(event) =>
            event.target.value === another ? setAdding(true) : change({ store: event.target.value })
          }
        >
          {stores.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
          <option value={another}>Another place…</option>
        </select>
      </Field>
      <Field label="Folder">
        <input
          className={`${inputLook} font-mono`}
          value={draft.folder}
          onChange={(event) => change({ folder: event.target.value })}
        />
      </Field>
      <Dialog.Root open={adding} onOpenChange={setAdding}>
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
                change({ store, folder: [folder, slug(production, 'outputs')].filter(Boolean).join('/') });
                setAdding(false);
              }}
              onClose={() => setAdding(false)}
            />
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </div>
  );
}
