import { identityRows } from '@relay/contract/routes/identity';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { addressOf, ask } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { Button, problemOf } from '../ui/pieces.tsx';
import { useSayIdentity } from './identity.tsx';
import { PreviewTable } from './preview.tsx';

interface CsvPanelProps {
  production: string;
  filter: string;
  /** A file that was dropped on the page already. */
  given: File | null;
  onClose: () => void;
}

/** The clips as CSV, and identity from a CSV file: matched by clip, shown row by row before it is taken in. */
export function CsvPanel({ production, filter, given, onClose }: CsvPanelProps) {
  const [text, setText] = useState<string | null>(null);
  const [name, setName] = useState('');
  const say = useSayIdentity();
  const look = useMutation({
    mutationFn: (content: string) => ask(identityRows.previewCsv, { production, body: { text: content } }),
  });
  const choose = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    const content = await file.text();
    setName(file.name);
    setText(content);
    look.mutate(content);
  };
  const taken = useRef<File | null>(null);
  useEffect(() => {
    if (given === null || given === taken.current) return;
    taken.current = given;
    void choose(given);
  });
  const changing = look.data?.rows.filter((row) => row.changes).length ?? 0;
  const apply = async (): Promise<void> => {
    if (text === null) return;
    if (await say(ask(identityRows.sayCsv, { production, body: { text, versions: look.data?.versions } }))) onClose();
  };
  return (
    <section aria-label="CSV" className="flex flex-col gap-4 p-5">
      <h2 className="text-[15px] font-semibold">CSV</h2>
      <div>
        <a
          href={addressOf(identityRows.csv, { production, query: { filter } })}
          download
          className="inline-flex h-8 items-center rounded-md border border-line px-3.5 hover:bg-raised"
        >
          Write {filter ? 'the filtered clips' : 'all clips'} to CSV
        </a>
        <p className="mt-2 text-dim">
          Reel, scene, take, camera, note and circled can be changed in it and taken in again. Cells that a spreadsheet
          would run as formulas are made harmless.
        </p>
      </div>
      <label
        className="flex flex-col gap-1 rounded-lg border border-dashed border-line p-4 text-dim focus-within:border-sky"
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          event.preventDefault();
          void choose(event.dataTransfer.files[0]);
        }}
      >
        <span>Take in a CSV file: drop it here, or choose it</span>
        <input type="file" accept=".csv,text/csv" onChange={(event) => void choose(event.target.files?.[0])} />
      </label>
      {look.error && (
        <p role="alert" className="text-rose">
          {name}: {problemOf(look.error).what}. {problemOf(look.error).remedy}.
        </p>
      )}
      {look.isPending && (
        <p role="status" className="text-dim">
          Reading {name}…
        </p>
      )}
      {look.data && <PreviewTable preview={look.data} />}
      <div className="flex gap-2">
        {look.data && (
          <Button main disabled={changing === 0} onClick={() => void apply()}>
            Take in {plural(changing, 'clip')}
          </Button>
        )}
        <Button onClick={onClose}>Close</Button>
      </div>
    </section>
  );
}
