import { cutRows } from '@relay/contract/routes/cuts';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { ask } from '../api/client.ts';
import { cutsQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { Button, Field, inputLook, Loading, ProblemLine, problemOf, toastProblem } from '../ui/pieces.tsx';
import { Remove } from '../ui/remove.tsx';
import { StoreFile } from '../ui/storeFile.tsx';

/** Cuts that came back, each with its versions; new ones are brought in here. */
export function CutList({ production }: { production: string }) {
  const client = useQueryClient();
  const go = useNavigate();
  const { data, error } = useQuery(cutsQuery(production));
  const [fromStore, setFromStore] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  /** The cut that the next list is a version of. */
  const [of, setOf] = useState<string | undefined>(undefined);
  const done = {
    onSuccess: async ({ id }: { id: string }) => {
      await client.invalidateQueries({ queryKey: ['cuts'] });
      void go(`/p/${production}/handoffs/cuts/${id}`);
    },
    onError: toastProblem,
  };
  const bring = useMutation({
    mutationFn: (file: File) =>
      ask(cutRows.add, {
        production,
        query: { name: file.name, ...(of === undefined ? {} : { cut: of }) },
        body: file,
      }),
    ...done,
  });
  const take = useMutation({
    mutationFn: (place: { store: string; path: string }) =>
      ask(cutRows.addFromStore, { production, body: { ...place, ...(of === undefined ? {} : { cut: of }) } }),
    ...done,
  });
  const choose = (cut?: string): void => {
    setOf(cut);
    chooser.current?.click();
  };
  const busy = bring.isPending || take.isPending;
  return (
    <section aria-label="Cuts" className="mt-8">
      <div className="mb-3 flex flex-wrap items-center gap-3">
        <h2 className="text-lg font-semibold">Cuts</h2>
        <span className="ml-auto flex gap-2">
          <Button
            disabled={busy}
            onClick={() => {
              setOf(undefined);
              setFromStore(!fromStore);
            }}
          >
            From a store…
          </Button>
          <Button disabled={busy} onClick={() => choose()}>
            {busy ? 'Is read …' : 'Bring in an edit list…'}
          </Button>
        </span>
        <input
          ref={chooser}
          type="file"
          accept=".edl,.otio,.txt,.json"
          aria-label="Edit list"
          className="sr-only"
          tabIndex={-1}
          onChange={({ target }) => {
            const [file] = target.files ?? [];
            target.value = '';
            if (file) bring.mutate(file);
          }}
        />
      </div>
      {fromStore && data && data.length > 0 && (
        <Field label="Brought in as">
          <select
            className={`${inputLook} max-w-sm`}
            value={of ?? ''}
            onChange={({ target }) => setOf(target.value || undefined)}
          >
            <option value="">a cut of its own</option>
            {data.map(({ id, name }) => (
              <option key={id} value={id}>
                next version of {name}
              </option>
            ))}
          </select>
        </Field>
      )}
      {fromStore && (
        <StoreFile
          example="salt-lantern-1.edl"
          busy={busy}
          onChoose={(place) => take.mutate(place)}
          onClose={() => setFromStore(false)}
        />
      )}
      {error && !data && <ProblemLine problem={problemOf(error)} />}
      {!data && !error && <Loading what="The cuts" rows={2} />}
      {data?.length === 0 && (
        <p className="max-w-xl text-dim">
          When an edit list comes back, drop it here (.edl or .otio): every event is tried against the originals, so
          that you see what is found, and what is not, before it matters.
        </p>
      )}
      <ul className="border-t border-line empty:hidden">
        {data?.map(({ id, name, versions }) => (
          <li key={id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-3">
            <Link
              to={`/p/${production}/handoffs/cuts/${versions[0]?.id ?? ''}`}
              className="min-w-0 font-semibold break-words underline underline-offset-4"
            >
              {name}
            </Link>
            <span className="text-dim">
              {versions[0] ? `version ${versions[0].number}, ${plural(versions[0].events, 'event')}` : 'no version'}
            </span>
            <span className="ml-auto flex gap-2">
              <Button disabled={busy} onClick={() => choose(id)} aria-label={`Next version of ${name}…`}>
                Next version…
              </Button>
              <Remove
                what={name}
                says="Its versions and what was said of its events are known no more."
                remove={() => ask(cutRows.forget, { cut: id })}
              />
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
