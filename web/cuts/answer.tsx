import type { CutEventLine } from '@relay/contract/cuts';
import { cutRows } from '@relay/contract/routes/cuts';
import { isFound } from '@relay/core/relink/grade';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { clipsQuery } from '../api/queries.ts';
import { NumberField } from '../ui/numberField.tsx';
import { Button, inputLook, toastProblem } from '../ui/pieces.tsx';
import { useSettled } from '../ui/useSettled.ts';

export interface AnswerProps {
  version: string;
  production: string;
  event: CutEventLine;
}

/** Those that it might be, and what a person says. */
export function Answer({ version, production, event }: AnswerProps) {
  const { near } = event;
  const client = useQueryClient();
  const [typed, setTyped] = useState('');
  const sought = useSettled(typed, 200);
  const { data } = useQuery({ ...clipsQuery(production, 'name', 'up', sought), enabled: sought.trim() !== '' });
  const [chosen, setChosen] = useState<{ id: string; path: string } | null>(null);
  const [at, setAt] = useState<number | null>(null);
  const say = useMutation({
    mutationFn: (body: { clip: string | null; at: number | null }) =>
      ask(cutRows.answer, { version, body: { event: event.index, ...body } }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['rehearsal'] }),
    onError: toastProblem,
  });
  const clips = sought.trim() === '' ? [] : (data?.lines.slice(0, 6) ?? []);
  if (event.grade === 'said')
    return (
      <section aria-label="Answer" className="mt-4 border-t border-line pt-3">
        <Button disabled={say.isPending} onClick={() => say.mutate({ clip: null, at: null })}>
          Take the answer back
        </Button>
      </section>
    );
  return (
    <section aria-label="Answer" className="mt-4 flex flex-col gap-3 border-t border-line pt-3">
      {event.grade === 'nearly' && event.original && (
        <Button
          main
          disabled={say.isPending}
          onClick={() => say.mutate({ clip: event.original?.clip ?? null, at: null })}
        >
          It is {event.original.stem}
        </Button>
      )}
      {near.length > 0 && (
        <ul aria-label="Near" className="flex flex-col gap-2">
          {near.map(({ clip, path, stem, differs }) => (
            <li key={clip} className="flex items-start justify-between gap-2">
              <span className="min-w-0">
                <span className="block font-mono text-[12px] break-all">{path}</span>
                <span className="break-words text-dim">{differs}</span>
              </span>
              <Button
                disabled={say.isPending}
                aria-label={`It is ${stem}`}
                onClick={() => say.mutate({ clip, at: null })}
              >
                This one
              </Button>
            </li>
          ))}
        </ul>
      )}
      <details open={!isFound(event.grade ?? 'none') && near.length === 0 && event.original === null}>
        <summary className="cursor-pointer text-dim">Another original</summary>
        <form
          className="mt-2 flex flex-col gap-2"
          onSubmit={(submitted) => {
            submitted.preventDefault();
            say.mutate({ clip: chosen?.id ?? null, at });
          }}
        >
          <input
            aria-label="Original, by its name"
            className={inputLook}
            placeholder="Part of its name or path"
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
          />
          {clips.map(({ id, path }) => (
            <label key={id} className="flex items-start gap-2 font-mono text-[12px] break-all">
              <input
                type="radio"
                name="original"
                className="mt-0.5"
                checked={chosen?.id === id}
                onChange={() => setChosen({ id, path })}
              />
              {path}
            </label>
          ))}
          {sought.trim() !== '' && data && clips.length === 0 && <p className="text-dim">No original is called so.</p>}
          <label className="flex items-center justify-between gap-2 text-dim">
            From frame
            <NumberField
              label="Frame of the original that the event begins with"
              value={at}
              least={0}
              most={100_000_000}
              whole
              optional
              placeholder="by timecode"
              className="w-28"
              onChange={setAt}
            />
          </label>
          <Button type="submit" disabled={chosen === null || say.isPending}>
            It is this one
          </Button>
        </form>
      </details>
    </section>
  );
}
