import type { LutAnswer, LutLine } from '@relay/contract/colour';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { cabinetRows } from '@relay/contract/routes/cabinet';
import { ask } from '../api/client.ts';
import { lutsQuery } from '../api/queries.ts';
import { LevelShape } from '../ui/levelMark.tsx';
import { useKeys } from '../ui/keys.ts';
import { blocks, Button, Empty, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { StoreFile } from '../ui/storeFile.tsx';
import { LutDetail } from './detail.tsx';

function bringIn(file: File): Promise<LutAnswer> {
  return ask(cabinetRows.add, { query: { name: file.name }, body: file });
}

/** LUTs and CDLs: brought in, examined, named, and where they are used. */
export function CabinetPage() {
  const { production = '', lut = '' } = useParams();
  const go = useNavigate();
  const client = useQueryClient();
  const { data, error, refetch } = useQuery(lutsQuery);
  const [over, setOver] = useState(false);
  const [choosing, setChoosing] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const taken = (answer: LutAnswer): void => {
    void client.invalidateQueries({ queryKey: ['luts'] });
    void go(`/p/${production}/cabinet/${answer.hash}`);
    toast(`${answer.name} is in the cabinet`, { description: answer.sound ? 'Sound' : `${answer.toDecide} to decide` });
  };
  const bring = useMutation({
    // One at a time: a file that is refused does not keep the others out.
    mutationFn: async (files: readonly File[]) => {
      for (const file of files) await bringIn(file).then(taken, toastProblem);
    },
  });
  const fromStore = useMutation({
    mutationFn: (place: { store: string; path: string }) => ask(cabinetRows.addFromStore, { body: place }),
    onSuccess: (answer) => {
      setChoosing(false);
      taken(answer);
    },
    onError: toastProblem,
  });
  const at = data?.findIndex((one) => one.hash === lut) ?? -1;
  const step = (by: number) => () => {
    const next = data?.[Math.max(0, Math.min((data.length || 1) - 1, at + by))];
    if (next) void go(`/p/${production}/cabinet/${next.hash}`, { replace: true });
  };
  useKeys({
    ArrowDown: step(1),
    ArrowUp: step(-1),
    n: () => field.current?.click(),
    Escape: () => void go(`/p/${production}/bench`),
  });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The cabinet" />
      </div>
    );
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    setOver(false);
    bring.mutate([...event.dataTransfer.files]);
  };
  return (
    <div
      className={`flex min-w-0 flex-1 ${over ? 'outline-2 -outline-offset-4 outline-sky outline-dashed' : ''}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (event.currentTarget === event.target) setOver(false);
      }}
      onDrop={onDrop}
    >
      <div className="flex w-[340px] shrink-0 flex-col border-r border-line">
        <div className="flex items-center justify-between gap-2 border-b border-line px-4 py-2">
          <h1 className="font-semibold">LUT cabinet</h1>
          <span className="flex gap-2">
            <Button onClick={() => setChoosing(true)}>From a store</Button>
            <Button main onClick={() => field.current?.click()}>
              Bring in
            </Button>
          </span>
          <input
            ref={field}
            type="file"
            aria-label="LUT and CDL files"
            multiple
            accept=".cube,.clf,.cc,.ccc,.cdl"
            className="sr-only"
            onChange={(event) => {
              bring.mutate([...(event.target.files ?? [])]);
              event.target.value = '';
            }}
          />
        </div>
        <ul aria-label="LUTs" className="min-h-0 flex-1 overflow-auto">
          {data.map((one) => (
            <Line key={one.hash} lut={one} production={production} on={one.hash === lut} />
          ))}
        </ul>
        <p className="border-t border-line px-4 py-2 text-faint">
          Drop .cube, .clf, .cc, .ccc or .cdl files anywhere here.
        </p>
      </div>
      <div className="min-w-0 flex-1 overflow-auto">
        {choosing && (
          <StoreFile
            example="estuary-night.cube"
            busy={fromStore.isPending}
            onChoose={(place) => fromStore.mutate(place)}
            onClose={() => setChoosing(false)}
          />
        )}
        {!choosing && lut !== '' && <LutDetail key={lut} hash={lut} production={production} />}
        {!choosing && lut === '' && (
          <div className="px-6">
            <Empty title={data.length === 0 ? 'The cabinet is empty' : 'Choose a LUT'}>
              <p>
                Every LUT is examined when it comes in: its range, clipping, breaks, casts and folds, and the camera log
                that it was likely made for. Its bytes are kept, so that an old run can be made again.
              </p>
              <Link to={`/p/${production}/bench`} className="mt-4 inline-block underline underline-offset-4">
                To the bench
              </Link>
            </Empty>
          </div>
        )}
      </div>
    </div>
  );
}

function Line({ lut, production, on }: { lut: LutLine; production: string; on: boolean }) {
  return (
    <li>
      <Link
        to={`/p/${production}/cabinet/${lut.hash}`}
        aria-current={on || undefined}
        className={`block border-b border-line/60 px-4 py-2 ${on ? 'bg-raised' : 'hover:bg-raised/60'}`}
      >
        <span className="flex items-baseline justify-between gap-3">
          <span className="truncate font-semibold">{lut.name}</span>
          {lut.sound ? (
            <span className="flex shrink-0 items-center gap-1.5">
              <span aria-hidden className="size-2 rounded-full bg-teal" />
              sound
            </span>
          ) : (
            <span className="flex shrink-0 items-center gap-1.5">
              <LevelShape level="decide" />
              {lut.toDecide} to decide
            </span>
          )}
        </span>
        <span className="flex justify-between gap-3 text-dim">
          <span className="truncate">
            {lut.says}
            {lut.tags.length > 0 && ` · ${lut.tags.join(', ')}`}
          </span>
          <span className="shrink-0">{lut.usedBy > 0 ? 'in use' : ''}</span>
        </span>
      </Link>
    </li>
  );
}
