import type { RecipeAnswer } from '@relay/contract/api';
import { codecRow } from '@relay/core/recipe/codecs';
import type { Deliverable } from '@relay/core/recipe/recipe';
import { useQuery } from '@tanstack/react-query';
import { recipesQuery } from '../api/queries.ts';
import { Fact, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';

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
      <ul className="grid gap-4 md:grid-cols-2">{recipe.definition.deliverables.map((deliverable) => <DeliverableCard key={deliverable.folder} deliverable={deliverable} />)}</ul>
    </section>
  );
}

function DeliverableCard({ deliverable: d }: { deliverable: Deliverable }) {
  const codec = codecRow(d.codec);
  return (
    <li className="rounded-lg border border-line p-4">
      <h3 className="font-semibold">{d.name}</h3>
      <p className="mb-2 text-dim">{uses[d.role]}</p>
      <dl>
        <Fact name="Codec">{codec.name}{d.codec.id === 'h264' ? `, constant quality ${d.codec.quality}` : ''}</Fact>
        <Fact name="Sampling">{codec.chroma} {codec.bitDepth} bit</Fact>
        <Fact name="Wrapper">{d.wrapper.toUpperCase()}</Fact>
        <Fact name="Raster">{d.raster.kind === 'source' ? 'the original\'s, pixels square' : `within ${d.raster.width}×${d.raster.height}, never enlarged`}</Fact>
        <Fact name="Rate">the original's, every frame once</Fact>
        <Fact name="Interlaced">{d.interlaced === 'keep' ? 'fields kept' : 'deinterlaced'}</Fact>
        <Fact name="Sound">all tracks, PCM, 48 kHz</Fact>
        <Fact name="Goes to">{d.folder}/…</Fact>
      </dl>
    </li>
  );
}
