import type { OriginalsLine } from '@relay/contract/originals';
import { originalRows } from '@relay/contract/routes/originals';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { settled, type Place } from '../api/places.ts';
import { storesQuery } from '../api/queries.ts';
import { DocketForm } from '../ui/docketForm.tsx';
import { FolderChooser } from '../ui/folderChooser.tsx';
import { plural } from '../ui/format.ts';
import { Button, toastProblem } from '../ui/pieces.tsx';

interface LookDocketProps {
  production: string;
  lookedFor: readonly OriginalsLine[];
  onClose: () => void;
  onBegun: (id: string) => void;
}

/** Where originals are looked for: a folder of a store or of this machine, with all below it. */
export function LookDocket({ production, lookedFor, onClose, onBegun }: LookDocketProps) {
  const client = useQueryClient();
  const { data: stores = [] } = useQuery(storesQuery);
  const [chosen, setPlace] = useState<Place | null>(null);
  const first = stores.find((store) => store.freeBytes !== null && !store.bay);
  const place = chosen ?? { store: first?.id ?? '', folder: '' };
  const look = useMutation({
    mutationFn: async () => {
      const at = await settled(place, 'read');
      const places = lookedFor.map(({ store, folder, roll }) => ({ store, folder, roll }));
      return ask(originalRows.search, { production, body: { lookedFor: places, at } });
    },
    onSuccess: async ({ id }) => {
      await client.invalidateQueries({ queryKey: ['originals'] });
      onBegun(id);
    },
    onError: toastProblem,
  });
  const files = lookedFor.reduce((sum, one) => sum + one.files, 0);
  const ready = lookedFor.length > 0 && !look.isPending && (place.store !== '' || place.root !== undefined);
  return (
    <DocketForm
      title={`Look for ${plural(lookedFor.length, 'roll')}`}
      ready={ready}
      onSend={() => look.mutate()}
      onClose={onClose}
    >
      <p className="text-dim">
        {plural(files, 'file')} {files === 1 ? 'is' : 'are'} looked for in this folder and all below it, by name, size
        and the folders within the roll. Of what is found so, three short stretches are read and held against what was
        read of it before.
      </p>
      <FolderChooser place={place} onChoose={setPlace} stores="all" machine="all" />
      <div className="flex gap-2">
        <Button main type="submit" disabled={!ready}>
          {look.isPending ? 'Begins …' : 'Look here'}
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}
