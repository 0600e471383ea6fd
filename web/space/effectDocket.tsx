import type { SpaceEffect, SpaceSet } from '@relay/contract/space';
import { spaceRows } from '@relay/contract/routes/space';
import { isTyped } from '@relay/core/space/mayGo';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { spaceEffectQuery } from '../api/queries.ts';
import { DocketForm } from '../ui/docketForm.tsx';
import { plural, sayBytes, saySpan } from '../ui/format.ts';
import { Button, Fact, Field, inputLook, Loading, ProblemLine, problemOf, toastProblem } from '../ui/pieces.tsx';

interface EffectDocketProps {
  production: string;
  cut: string | null;
  sets: readonly SpaceSet[];
  onClose: () => void;
  onBegun: (removal: string) => void;
}

/** What deleting the chosen sets would do; it goes once somebody has typed how much. */
export function EffectDocket({ production, cut, sets, onClose, onBegun }: EffectDocketProps) {
  const client = useQueryClient();
  const [typed, type] = useState('');
  const keys = sets.filter(({ kind }) => kind !== 'cache').map(({ key }) => key);
  const cache = sets.find(({ kind }) => kind === 'cache');
  const { data: effect, error } = useQuery({
    ...spaceEffectQuery(production, { sets: keys, cut }),
    enabled: keys.length > 0,
  });
  const refresh = (): Promise<unknown> =>
    Promise.all(['space', 'outputs', 'runs', 'handoffs'].map((key) => client.invalidateQueries({ queryKey: [key] })));
  const remove = useMutation({
    mutationFn: async () => {
      if (cache) {
        const { bytes } = await ask(spaceRows.clearCache, {});
        toast(`${sayBytes(bytes)} of pictures are drawn again when they are asked for`);
      }
      return keys.length > 0 ? ask(spaceRows.remove, { production, body: { sets: keys, cut, typed } }) : null;
    },
    onSuccess: async (begun) => {
      await refresh();
      if (begun) onBegun(begun.id);
      else onClose();
    },
    onError: toastProblem,
  });
  const ready =
    !remove.isPending &&
    (keys.length === 0 || (effect !== undefined && effect.files > 0 && isTyped(typed, effect.files)));
  return (
    <DocketForm title="What would go" ready={ready} onSend={() => remove.mutate()} onClose={onClose}>
      {error && <ProblemLine problem={problemOf(error)} />}
      {keys.length > 0 && !effect && !error && <Loading what="What it comes to" rows={3} />}
      {effect && <EffectFacts effect={effect} />}
      {cache && <p>{sayBytes(cache.goesBytes)} of pictures that are drawn again as soon as somebody asks for them.</p>}
      {effect && effect.files > 0 && (
        <Field label={`Type: ${effect.words}`}>
          <input
            className={`${inputLook} font-mono`}
            value={typed}
            autoComplete="off"
            spellCheck={false}
            onChange={({ target }) => type(target.value)}
          />
        </Field>
      )}
      <div className="flex flex-wrap gap-2">
        <Button main type="submit" disabled={!ready}>
          {effect ? `Delete ${plural(effect.files, 'file')}, ${sayBytes(effect.bytes)}` : 'Delete'}
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}

function EffectFacts({ effect }: { effect: SpaceEffect }) {
  const { files, bytes, stores, clips, bare, losing, again } = effect;
  return (
    <>
      <dl>
        <Fact name="Comes back">
          {sayBytes(bytes)} in {plural(files, 'file')}
        </Fact>
        {stores.map((store) => (
          <Fact key={store.name} name={`on ${store.name}`}>
            {sayBytes(store.bytes)}
          </Fact>
        ))}
        <Fact name="Clips that lose">{clips}</Fact>
        <Fact name="keep nothing">{bare}</Fact>
        <Fact name="To make again">{again === null ? 'not known yet' : `about ${saySpan(again)}`}</Fact>
      </dl>
      <p className="text-dim">
        Each file is read once more and held against its checksum, and each original is looked at, before anything goes.
        What was changed since stays. What went is kept in a list, and can be made again.
      </p>
      <details>
        <summary className="cursor-pointer text-dim">Which clips lose what</summary>
        <ul className="max-h-72 overflow-auto">
          {losing.map(({ path, loses, keeps }) => (
            <li key={path} className="border-t border-line py-1.5 text-[12px]">
              <span className="font-mono break-all">{path}</span>
              <span className="block text-dim">
                loses {loses.join(', ')}; {keeps.length === 0 ? 'keeps nothing' : `keeps ${keeps.join(', ')}`}
              </span>
            </li>
          ))}
          {losing.length < clips && <li className="py-1.5 text-faint">and {clips - losing.length} more</li>}
        </ul>
      </details>
    </>
  );
}
