import type { RecipeAnswer } from '@relay/contract/api';
import { sayWish } from '@relay/core/recipe/sentence';
import { codecRow } from '@relay/core/recipe/codecs';
import type { Deliverable } from '@relay/core/recipe/recipe';
import type { DeliverableColour } from '@relay/core/recipe/recipe';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { post } from '../api/client.ts';
import { StateSelect } from '../ui/stateSelect.tsx';
import { recipesQuery } from '../api/queries.ts';
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

/** What becomes of the chain in a deliverable; used by every run from now on. */
function ColourChoice({ recipe, deliverable }: { recipe: string; deliverable: Deliverable }) {
  const client = useQueryClient();
  const colour = deliverable.colour ?? { kind: 'as-shot' as const };
  const say = useMutation({
    mutationFn: (next: DeliverableColour) => post<RecipeAnswer>(`/recipes/${recipe}/deliverable`, { folder: deliverable.folder, colour: next }),
    onSuccess: () => void client.invalidateQueries({ queryKey: ['recipes'] }), onError: toastProblem,
  });
  return (
    <div className="flex flex-col gap-1">
      <select aria-label={`Colour of the ${deliverable.name.toLowerCase()}`} value={colour.kind} disabled={say.isPending} className="h-7 rounded border border-line bg-ground px-1.5" onChange={(event) => { const kind = event.target.value as DeliverableColour['kind']; say.mutate(kind === 'brought' ? { kind, state: 'acescct' } : { kind }); }}>
        {Object.entries(colourKinds).map(([kind, words]) => <option key={kind} value={kind}>{words}</option>)}
      </select>
      {colour.kind === 'brought' && <StateSelect label="Brought to" value={colour.state} none="choose a state" onChange={(state) => { if (state) say.mutate({ kind: 'brought', state }); }} />}
    </div>
  );
}

function DeliverableCard({ recipe, deliverable: d }: { recipe: string; deliverable: Deliverable }) {
  const codec = codecRow(d.codec);
  return (
    <li className="rounded-lg border border-line p-4">
      <h3 className="font-semibold">{d.name}</h3>
      <p className="mb-2 text-dim">{uses[d.role]}</p>
      <dl>
        <Fact name="Codec">{codec.name}{d.codec.id === 'h264' ? `, constant quality ${d.codec.quality}` : ''}</Fact>
        <Fact name="Sampling">{codec.chroma} {codec.bitDepth} bit</Fact>
        <Fact name="Wrapper">{d.wrapper.toUpperCase()}</Fact>
        <Fact name="Raster">{sayWish(d.raster)}</Fact>
        <Fact name="Rate">the original's, or as its clip is corrected</Fact>
        <Fact name="Interlaced">{d.interlaced === 'keep' ? 'fields kept' : 'deinterlaced'}</Fact>
        <Fact name="Colour" mono={false}><ColourChoice recipe={recipe} deliverable={d} /></Fact>
        <Fact name="Sound">all tracks, PCM, 48 kHz</Fact>
        <Fact name="Goes to">{d.folder}/…</Fact>
      </dl>
    </li>
  );
}
