import type { ByteRange, RecipePreview } from '@relay/contract/api';
import type { Recipe } from '@relay/core/recipe/recipe';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { post } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { Button, Bytes, ProblemNote, problemOf } from '../ui/pieces.tsx';

/** A range of bytes that holds nine times in ten. */
export function Range({ bytes: { least, likely, most } }: { bytes: ByteRange }) {
  return least === most ? <Bytes value={likely} /> : <span className="whitespace-nowrap"><Bytes value={least} /> <span className="text-faint">to</span> <Bytes value={most} /></span>;
}

/** What a recipe, as it is said now, would make of the production's clips. */
export function Makes({ production, recipe, onRemedy }: { production: string; recipe: Recipe; onRemedy: (recipe: Recipe) => void }) {
  const { data, error, isPlaceholderData } = useQuery({
    queryKey: ['recipe-preview', production, recipe], placeholderData: keepPreviousData, staleTime: 30_000, retry: false,
    queryFn: () => post<RecipePreview>(`/productions/${production}/recipe-preview`, { clips: [], definition: recipe }),
  });
  if (error) return <ProblemNote problem={problemOf(error)} />;
  if (!data) return <p role="status" className="p-4 text-dim">What it makes is worked out…</p>;
  return (
    <div aria-live="polite" className={`flex flex-col gap-4 p-4 ${isPlaceholderData ? 'opacity-60' : ''}`}>
      <h2 className="font-semibold">Of {plural(data.clips, 'clip')} it makes {plural(data.total, 'file')}</h2>
      <ul className="flex flex-col gap-2.5">
        {data.deliverables.map((one) => (
          <li key={one.deliverable}>
            <p className="flex items-baseline justify-between gap-2"><span className="truncate">{one.deliverable}</span><Range bytes={one.bytes} /></p>
            <p className="flex justify-between gap-2 text-[12px] text-dim"><span>{plural(one.outputs, 'file')}</span><span>{one.known}</span></p>
            {one.warnings.map((text) => <p key={text} className="mt-0.5 flex gap-2 text-[12px] text-dim"><span aria-hidden className="mt-1.5 size-1.5 shrink-0 rotate-45 bg-amber" />{text}</p>)}
          </li>
        ))}
      </ul>
      {data.clashes > 0 && (
        <div role="alert" className="rounded-md border border-rose/60 p-3">
          <p className="font-semibold">{plural(data.clashes, 'path')} cannot be made</p>
          {data.remedy ? <Button className="mt-2 w-full" onClick={() => { if (data.remedy) onRemedy(data.remedy.definition); }}>{data.remedy.text}</Button> : <p className="text-dim">No small change of the pattern helps: put what tells the clips apart into it.</p>}
        </div>
      )}
      {data.refused.length > 0 && <ul className="flex flex-col gap-1.5">{data.refused.slice(0, 5).map((line) => <li key={line.path}><span className="text-rose">{line.problem.what}.</span> <span className="text-dim">{line.problem.remedy}.</span></li>)}{data.refused.length > 5 && <li className="text-dim">and {data.refused.length - 5} more</li>}</ul>}
      <ul aria-label="Paths" className="flex flex-col gap-1 font-mono text-[11px]">
        {data.paths.slice(0, 120).map((one) => <li key={`${one.original} ${one.path}`} className={`break-all ${one.clash ? 'text-rose' : 'text-dim'}`} title={one.clash ?? `of ${one.original}`}>{one.clash && <span role="img" aria-label="cannot be made" className="mr-1.5 inline-block size-2 rounded-[2px] bg-rose" />}{one.path}</li>)}
        {data.total > 120 && <li className="font-sans text-dim">and {data.total - 120} more</li>}
      </ul>
    </div>
  );
}
