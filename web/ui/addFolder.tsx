import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { settled, type Place } from '../api/places.ts';
import { rootsQuery } from '../api/queries.ts';
import { FolderChooser } from './folderChooser.tsx';
import { Button, toastProblem } from './pieces.tsx';

interface AddFolderProps {
  /** What is done with it, on the button. */
  action: string;
  /** What will happen, in a sentence. */
  says: string;
  /** To be read, or to have something made in it: then cards and what is mounted to be read are not offered. */
  use: 'read' | 'make';
  /** Given the folder in its store. */
  onAdd: (place: { store: string; folder: string }) => Promise<void> | void;
  onClose: () => void;
}

/** A folder, drive or card of this machine chosen, and laid in a store. */
export function AddFolder({ action, says, use, onAdd, onClose }: AddFolderProps) {
  const { data: all = [] } = useQuery(rootsQuery);
  const roots = use === 'make' ? all.filter((root) => root.kind !== 'card' && !root.readOnly) : all;
  const [chosen, setChosen] = useState<Place | null>(null);
  const [busy, setBusy] = useState(false);
  const [first] = roots;
  const place = chosen ?? (first ? { store: '', folder: '', root: first.path } : null);
  const add = async (): Promise<void> => {
    if (!place) return;
    setBusy(true);
    try {
      await onAdd(await settled(place, use));
    } catch (error) {
      toastProblem(error);
    }
    setBusy(false);
  };
  if (!place)
    return (
      <p className="text-dim">
        No folder of this machine may be added from the page. Start with <code className="font-mono">--root PATH</code>,
        or add a store with <code className="font-mono">--store NAME=PATH</code>.
      </p>
    );
  return (
    <div>
      <FolderChooser stores="none" machine={use === 'make' ? 'to write' : 'all'} place={place} onChoose={setChosen} />
      <div className="mt-3 flex items-center gap-3">
        <p className="min-w-0 flex-1 text-dim">{says}</p>
        <Button onClick={onClose}>Not now</Button>
        <Button main disabled={busy} onClick={() => void add()}>
          {action}
        </Button>
      </div>
    </div>
  );
}
