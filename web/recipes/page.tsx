import type { RecipeAnswer } from '@relay/contract/api';
import { codecRow } from '@relay/core/recipe/codecs';
import type { Deliverable, DeliverableColour } from '@relay/core/recipe/recipe';
import type { RasterWish } from '@relay/core/shape/geometry';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { post } from '../api/client.ts';
import { selectLook } from '../corrections/row.tsx';
import { plural } from '../ui/format.ts';
import { StateSelect } from '../ui/stateSelect.tsx';
import { recipesQuery } from '../api/queries.ts';
import { RasterChoice } from './rasterChoice.tsx';
import { Fact, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';

const uses = {
  intermediate: 'To finish from: every picture whole, light to decode, close to the original.',
  proxy: 'To cut with: small, quick to copy, leads back to its original.',
  review: 'To look at.',
} as const;

/** What the team gets, recipe by recipe. */
export function RecipesPage() {
  const { data, error, refetch } = useQuery(recipesQuery);
  if (error) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data) return <div className="flex-1"><Loading what="The recipes" /></div>;
  return (
    <div className="min-h-0 flex-1 overflow-auto">
      <div className="mx-auto flex max-w-5xl flex-col gap-8 px-6 py-6">{data.map((recipe) => <RecipeSection key={recipe.id} recipe={recipe} />)}</div>
    </div>
  );
}

function RecipeSection({ recipe }: { recipe: RecipeAnswer }) {
  return (
    <section aria-labelledby={recipe.id}>
      <h2 id={recipe.id} className="text-lg font-semibold">{recipe.definition.name}</h2>
      <p className="mb-4 text-dim">Every original is decoded once for all of these. Stem, start timecode, reel and every sound channel are kept; folders mirror the rolls.</p>
      <ul className="grid gap-4 md:grid-cols-2">{recipe.definition.deliverables.map((deliverable) => <DeliverableCard key={deliverable.folder} recipe={recipe.id} deliverable={deliverable} />)}</ul>
    </section>
  );
}

const colourKinds: Readonly<Record<DeliverableColour['kind'], string>> = {
  baked: 'the chain baked in', beside: 'as shot, the LUT beside it', brought: 'every camera brought to one log', 'as-shot': 'as shot',
};

/** Says something of a deliverable anew; used by every run from now on. */
function useSay(recipe: string, folder: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (change: { colour?: DeliverableColour; raster?: RasterWish }) => post<RecipeAnswer>(`/recipes/${recipe}/deliverable`, { folder, ...change }),
    onSuccess: () => void client.invalidateQueries({ queryKey: ['recipes'] }), onError: toastProblem,
  });
}

/** What becomes of the chain in a deliverable. */
function ColourChoice({ deliverable, busy, onSay }: { deliverable: Deliverable; busy: boolean; onSay: (colour: DeliverableColour) => void }) {
  const colour = deliverable.colour ?? { kind: 'as-shot' as const };
  return (
    <div className="flex flex-col gap-1">
      <select aria-label={`Colour of the ${deliverable.name.toLowerCase()}`} value={colour.kind} disabled={busy} className={`${selectLook} h-7`} onChange={(event) => { const kind = event.target.value as DeliverableColour['kind']; onSay(kind === 'brought' ? { kind, state: 'acescct' } : { kind }); }}>
        {Object.entries(colourKinds).map(([kind, words]) => <option key={kind} value={kind}>{words}</option>)}
      </select>
      {colour.kind === 'brought' && <StateSelect label="Brought to" value={colour.state} none="choose a state" onChange={(state) => { if (state) onSay({ kind: 'brought', state }); }} />}
    </div>
  );
}

/** What is drawn over a deliverable, in a few words. */
function sayBurn({ burn }: Deliverable): string {
  if (!burn) return 'nothing';
  const who = burn.mark?.recipients.length ?? 0;
  return [burn.lines.length > 0 ? plural(burn.lines.length, 'line') : null, burn.mark ? `a mark${who > 0 ? `, ${plural(who, 'copy', 'copies')}` : ''}` : null, burn.image ? 'an image' : null].filter(Boolean).join(', ') || 'nothing';
}

function DeliverableCard({ recipe, deliverable: d }: { recipe: string; deliverable: Deliverable }) {
  const { production = '' } = useParams();
  const codec = codecRow(d.codec);
  const say = useSay(recipe, d.folder);
  return (
    <li className="rounded-lg border border-line p-4">
      <h3 className="font-semibold">{d.name}</h3>
      <p className="mb-2 text-dim">{uses[d.role]}</p>
      <dl>
        <Fact name="Codec">{codec.name}{d.codec.id === 'h264' ? `, constant quality ${d.codec.quality}` : ''}</Fact>
        <Fact name="Sampling">{codec.chroma} {codec.bitDepth} bit</Fact>
        <Fact name="Wrapper">{d.wrapper.toUpperCase()}</Fact>
        <Fact name="Raster" mono={false}><RasterChoice key={JSON.stringify(d.raster)} deliverable={d} busy={say.isPending} onSay={(raster) => say.mutate({ raster })} /></Fact>
        <Fact name="Rate">the original's, or as its clip is corrected</Fact>
        <Fact name="Interlaced">{d.interlaced === 'keep' ? 'fields kept' : 'deinterlaced'}</Fact>
        <Fact name="Colour" mono={false}><ColourChoice deliverable={d} busy={say.isPending} onSay={(colour) => say.mutate({ colour })} /></Fact>
        <Fact name="Burn-in" mono={false}>{sayBurn(d)} <Link to={`/p/${production}/recipes/${recipe}/burn?deliverable=${encodeURIComponent(d.folder)}`} className="ml-2 underline underline-offset-2 hover:text-ink">{d.burn ? 'Lay out' : 'Begin one'}</Link></Fact>
        <Fact name="Sound">all tracks, PCM, 48 kHz</Fact>
        <Fact name="Goes to">{d.folder}/…</Fact>
      </dl>
    </li>
  );
}
