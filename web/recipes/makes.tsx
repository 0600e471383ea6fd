import { recipeRows } from '@relay/contract/routes/recipes';
import { runRows } from '@relay/contract/routes/runs';
import type { ByteRange } from '@relay/contract/forecast';
import type { Recipe } from '@relay/core/recipe/recipe';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { storesQuery } from '../api/queries.ts';
import { keptClips } from '../clips/kept.ts';
import { selectLook } from '../corrections/row.tsx';
import { LevelMark, LevelShape } from '../ui/levelMark.tsx';
import { plural, saySpan } from '../ui/format.ts';
import { blocks, Button, Bytes, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { useSettled } from '../ui/useSettled.ts';

/** A range of bytes that holds nine times in ten. */
export function Range({ bytes: { least, likely, most } }: { bytes: ByteRange }) {
  return least === most ? (
    <Bytes value={likely} />
  ) : (
    <span className="whitespace-nowrap">
      <Bytes value={least} /> <span className="text-faint">to</span> <Bytes value={most} />
    </span>
  );
}

/**
 * What a recipe, as it is said now, would make of the production's clips, or of those that are selected in its sheet.
 */
export function Makes({
  production,
  recipe: now,
  onRemedy,
}: {
  production: string;
  recipe: Recipe;
  onRemedy: (recipe: Recipe) => void;
}) {
  const recipe = useSettled(now);
  const [chosen] = useState(() => keptClips(production));
  // One alone is only where the keyboard stood.
  const [selectedOnly, setSelectedOnly] = useState(chosen.length > 1);
  const asked = { clips: selectedOnly ? chosen : [], definition: recipe };
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ['recipe-preview', production, asked],
    placeholderData: keepPreviousData,
    staleTime: 30_000,
    retry: false,
    queryFn: ({ signal }) => ask(recipeRows.preview, { production, body: asked, signal }),
  });
  const { data: stores = [] } = useQuery(storesQuery);
  const sampled = useQuery({
    queryKey: ['recipe-forecast', production, asked],
    enabled: false,
    gcTime: 60_000,
    retry: false,
    queryFn: ({ signal }) => ask(runRows.forecastRecipe, { production, body: asked, signal }),
  });
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} />;
  if (!data)
    return (
      <p role="status" className="p-4 text-dim">
        What it makes is worked out…
      </p>
    );
  /** Where a deliverable's paths begin, if not where the run goes. */
  const placeOf = (deliverable: string): string => {
    const place = recipe.deliverables.find(({ name }) => name === deliverable)?.place;
    if (!place) return '';
    const store = stores.find(({ id }) => id === place.store)?.name ?? place.store;
    return `${[store, place.folder].filter(Boolean).join('/')}/`;
  };
  // What was sampled is closer than what rates tell.
  const deliverables = data.deliverables.map((one) => ({
    ...one,
    ...sampled.data?.deliverables.find(({ deliverable }) => deliverable === one.deliverable),
  }));
  return (
    <div aria-live="polite" className={`flex flex-col gap-4 p-4 ${isPlaceholderData ? 'opacity-60' : ''}`}>
      <div>
        <h2 className="font-semibold">
          Of {plural(data.clips, 'clip')} it makes {plural(data.total, 'file')}
        </h2>
        {chosen.length > 0 && (
          <select
            aria-label="Clips that this is shown for"
            value={selectedOnly ? 'selected' : 'all'}
            onChange={(event) => setSelectedOnly(event.target.value === 'selected')}
            className={`${selectLook} mt-2`}
          >
            <option value="all">all clips of the production</option>
            <option value="selected">
              {chosen.length === 1 ? 'the clip that is selected' : `the ${chosen.length} clips that are selected`}
            </option>
          </select>
        )}
      </div>
      <ul className="flex flex-col gap-2.5">
        {deliverables.map((one) => (
          <li key={one.deliverable}>
            <p className="flex items-baseline justify-between gap-2">
              <span className="truncate">{one.deliverable}</span>
              <Range bytes={one.bytes} />
            </p>
            <p className="flex justify-between gap-2 text-[12px] text-dim">
              <span>{plural(one.outputs, 'file')}</span>
              <span>{one.known}</span>
            </p>
            {one.warnings.map((text) => (
              <p key={text} className="mt-0.5 flex gap-2 text-[12px] text-dim">
                <LevelShape level="decide" className="mt-1.5" />
                {text}
              </p>
            ))}
          </li>
        ))}
      </ul>
      {sampled.error && (
        <p role="alert" className="text-rose">
          {problemOf(sampled.error).what}.
        </p>
      )}
      {sampled.data ? (
        <p className="text-[12px] text-faint">
          By sampled pictures of {sampled.data.sampled} of {plural(sampled.data.of, 'clip')}
          {sampled.data.seconds &&
            `; takes ${saySpan(sampled.data.seconds.likely)} to ${saySpan(sampled.data.seconds.most)}`}
          .
        </p>
      ) : (
        data.deliverables.some(({ known }) => known === 'roughly' || known === 'by published rates') && (
          <Button disabled={sampled.isFetching} onClick={() => void sampled.refetch()}>
            {sampled.isFetching ? 'Sampling pictures…' : 'Sample pictures for a closer forecast'}
          </Button>
        )
      )}
      {data.clashes > 0 && (
        <div role="alert" className="rounded-md border border-rose/60 p-3">
          <p className="font-semibold">{plural(data.clashes, 'path')} cannot be made</p>
          {data.remedy ? (
            <Button
              className="mt-2 w-full"
              onClick={() => {
                if (data.remedy) onRemedy(data.remedy.definition);
              }}
            >
              {data.remedy.text}
            </Button>
          ) : (
            <p className="text-dim">No small change of the pattern helps: put what tells the clips apart into it.</p>
          )}
        </div>
      )}
      {data.refused.length > 0 && (
        <ul className="flex flex-col gap-1.5">
          {data.refused.slice(0, 5).map((line) => (
            <li key={line.path}>
              <span className="text-rose">{line.problem.what}.</span>{' '}
              <span className="text-dim">{line.problem.remedy}.</span>
            </li>
          ))}
          {data.refused.length > 5 && <li className="text-dim">and {data.refused.length - 5} more</li>}
        </ul>
      )}
      <ul aria-label="Paths" className="flex flex-col gap-1 font-mono text-[11px]">
        {data.paths.slice(0, 120).map((one) => (
          <li
            key={`${one.original} ${one.path}`}
            className={`break-all ${one.clash ? 'text-rose' : 'text-dim'}`}
            title={one.clash ?? `of ${one.original}`}
          >
            {one.clash && <LevelMark level="stop" label="cannot be made" className="mr-1.5" />}
            {placeOf(one.deliverable)}
            {one.path}
          </li>
        ))}
        {data.total > 120 && <li className="font-sans text-dim">and {data.total - 120} more</li>}
      </ul>
    </div>
  );
}
