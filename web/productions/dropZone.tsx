import { cabinetRows } from '@relay/contract/routes/cabinet';
import { cutRows } from '@relay/contract/routes/cuts';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useState, type DragEvent, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { recipesQuery } from '../api/queries.ts';
import { takeRecipe } from '../recipes/take.ts';
import { toastProblem } from '../ui/pieces.tsx';
import { droppedKind } from './dropped.ts';

/** Takes what is dropped anywhere on a production's pages to where it belongs. */
function useDropped(production: string): (files: readonly File[]) => Promise<void> {
  const client = useQueryClient();
  const go = useNavigate();
  const to = (path: string, state?: unknown): void => void go(`/p/${production}/${path}`, { state });
  const take = async (file: File): Promise<void> => {
    switch (droppedKind(file.name)) {
      case 'lut': {
        const lut = await ask(cabinetRows.add, { query: { name: file.name }, body: file });
        await client.invalidateQueries({ queryKey: ['luts'] });
        toast(`${lut.name} is in the cabinet`, {
          description: lut.sound ? 'Sound' : `${lut.toDecide} to decide`,
        });
        to(`cabinet/${lut.hash}`);
        return;
      }
      case 'recipe': {
        const made = await takeRecipe(file, await client.fetchQuery(recipesQuery));
        await client.invalidateQueries({ queryKey: ['recipes'] });
        to(`recipes/${made.id}`);
        return;
      }
      case 'cut': {
        const version = await ask(cutRows.add, { production, query: { name: file.name }, body: file });
        await client.invalidateQueries({ queryKey: ['cuts'] });
        to(`handoffs/cuts/${version.id}`);
        return;
      }
      case 'list':
        to('clips', { list: file });
        return;
      case 'clip':
        toast(`A page does not see where ${file.name} lies`, {
          description: 'Add the folder that it is in; it is read where it lies, and nothing is copied.',
          action: { label: 'Add a folder…', onClick: () => to('arrivals', { add: true }) },
          duration: 12_000,
        });
    }
  };
  return async (files) => {
    // One at a time: a file that is refused does not keep the others out.
    for (const file of files.slice(0, 200)) await take(file).catch(toastProblem);
  };
}

/** A file that is dropped beside every place for it must not make the browser leave the page for it. */
export function useDropsStay(): void {
  useEffect(() => {
    const stay = (event: globalThis.DragEvent): void => {
      const isFile = event.dataTransfer?.types.includes('Files') ?? false;
      // A field for files takes what is dropped on it by itself.
      if (isFile && !(event.target instanceof HTMLInputElement)) event.preventDefault();
    };
    window.addEventListener('dragover', stay);
    window.addEventListener('drop', stay);
    return () => {
      window.removeEventListener('dragover', stay);
      window.removeEventListener('drop', stay);
    };
  }, []);
}

/** A production's page as a place that files are dropped on: LUTs, recipes, lists. */
export function DropZone({ production, children }: { production: string; children: ReactNode }) {
  const [over, setOver] = useState(false);
  const take = useDropped(production);
  const holdsFiles = (event: DragEvent): boolean => event.dataTransfer.types.includes('Files');
  return (
    <div
      className={`flex min-h-0 min-w-0 flex-1 ${over ? 'outline-2 -outline-offset-4 outline-sky outline-dashed' : ''}`}
      onDragOver={(event) => {
        if (!holdsFiles(event)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setOver(false);
      }}
      onDrop={(event) => {
        setOver(false);
        // A page or a field that takes what is dropped on it has said so.
        if (event.defaultPrevented || !holdsFiles(event)) return;
        event.preventDefault();
        void take([...event.dataTransfer.files]);
      }}
    >
      {children}
    </div>
  );
}
