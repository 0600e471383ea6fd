import type { RecipeAnswer } from '@relay/contract/recipes';
import { viewingLayout, type BurnLayout } from '@relay/core/burn/layout';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import type { Deliverable } from '@relay/core/recipe/recipe';
import type { Anchor } from '@relay/core/shape/window';
import { toNumber } from '@relay/core/time/rational';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { benchGroupsQuery, benchQuery, clipQuery, productionQuery, recipesQuery } from '../api/queries.ts';
import { drawAfter, inside, type Box } from '../bench/drawShape.ts';
import { useStill } from '../bench/still.ts';
import { BeforeNext } from '../ui/beforeNext.tsx';
import { useKeys } from '../ui/keys.ts';
import { PictureCanvas, type Size } from '../ui/pictureCanvas.tsx';
import { useKept } from '../ui/useKept.ts';
import { blocks, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { BurnDocket } from './burnDocket.tsx';
import { drawBurn } from './drawBurn.ts';
import { Places } from './places.tsx';
import { cleanedLayout, useBurnPlan } from './useBurnPlan.ts';
import { useLaidImage } from './useLaidImage.ts';

/** What is drawn over a deliverable's pictures: laid out on a clip of the production, from the plan that runs. */
export function BurnPage() {
  const { recipe: id = '' } = useParams();
  const [search] = useSearchParams();
  const { data, error, refetch } = useQuery(recipesQuery);
  if (error && blocks(error, data)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!data)
    return (
      <div className="flex-1">
        <Loading what="The recipe" />
      </div>
    );
  const recipe = data.find((one) => one.id === id);
  const deliverable =
    recipe?.definition.deliverables.find((one) => one.folder === search.get('deliverable')) ??
    recipe?.definition.deliverables[0];
  if (!recipe || !deliverable)
    return <ProblemNote problem={{ what: 'There is no such recipe', remedy: 'Choose one under Recipes' }} />;
  return <Editor key={`${recipe.id} ${deliverable.folder}`} recipe={recipe} deliverable={deliverable} />;
}

/** The clip that the layout is seen on: the first of the production until another is chosen. */
function useSeenOn(production: string) {
  const [chosen, setChosen] = useState<string | null>(null);
  const { data: groups } = useQuery(benchGroupsQuery(production));
  const { data: name } = useQuery(productionQuery(production));
  const clip = chosen ?? groups?.[0]?.first ?? '';
  const { data: bench } = useQuery({ ...benchQuery(clip), enabled: clip !== '' });
  const { data: facts } = useQuery({ ...clipQuery(clip), enabled: clip !== '' });
  return { clip, bench, facts, name: name?.name ?? null, none: clip === '' && groups !== undefined, setChosen };
}

/** Where the output's picture lies on the canvas. */
function boxOf({ video: { raster, pixelAspect } }: OutputPlan, { width, height }: Size): Box {
  const within = { x: 12, y: 12, width: width - 24, height: height - 24 };
  return inside(within, (raster.width * toNumber(pixelAspect)) / raster.height);
}

function Editor({ recipe, deliverable }: { recipe: RecipeAnswer; deliverable: Deliverable }) {
  const { production = '' } = useParams();
  const go = useNavigate();
  const [layout, setLayout] = useKept<BurnLayout>(
    `burn ${recipe.id} ${recipe.version} ${deliverable.folder}`,
    deliverable.burn ?? viewingLayout,
  );
  const [place, setPlace] = useState<Anchor>('bottom left');
  const [frame, setFrame] = useState(0);
  const { clip, bench, facts, name, none, setChosen } = useSeenOn(production);
  const video = bench?.description.video ?? null;
  const { image: still } = useStill(clip, frame, 1280);
  const cleaned = useMemo(() => cleanedLayout(layout), [layout]);
  const plan = useBurnPlan(recipe.definition, deliverable, cleaned, { bench, clip: facts, production: name });
  const laid = useLaidImage(layout.image?.image);
  const back = (): void => void go(`/p/${production}/recipes`);
  const other = (to: string | null | undefined): void => {
    if (!to) return;
    setChosen(to);
    setFrame(0);
  };
  const step = (by: number): void => setFrame(Math.max(0, Math.min((video?.frames ?? 1) - 1, frame + by)));

  useKeys({
    '[': () => other(bench?.previous),
    ']': () => other(bench?.next),
    ArrowRight: (event) => step(event.shiftKey ? 10 : 1),
    ArrowLeft: (event) => step(event.shiftKey ? -10 : -1),
    Escape: back,
  });

  const draw = (context: CanvasRenderingContext2D, size: Size): void => {
    if (!plan?.burn || !plan.video.geometry || !still || !video) return;
    const box = boxOf(plan, size);
    drawAfter(context, box, still, { geometry: plan.video.geometry, video }, { guides: false, circle: false });
    drawBurn(context, box, plan.burn, frame, laid);
  };
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col bg-surround text-surround-ink">
        <div className="flex h-10 shrink-0 items-center justify-between gap-3 px-3">
          <span>Choose a place in the picture; lines stand within the title-safe area</span>
          {bench && (
            <BeforeNext
              of="clip"
              before={bench.previous ? () => other(bench.previous) : null}
              next={bench.next ? () => other(bench.next) : null}
              className="text-[12px]"
            >
              {bench.stem}
            </BeforeNext>
          )}
        </div>
        <PictureCanvas
          label="The deliverable's picture with its burn-in"
          draw={draw}
          over={(size) => plan && <Places box={boxOf(plan, size)} layout={layout} place={place} onPlace={setPlace} />}
        />
        {none && (
          <p className="px-4 py-2">
            No clip is in this production yet: the layout is kept all the same, and seen once there is one.
          </p>
        )}
        <div className="flex h-8 shrink-0 items-center justify-between px-3 font-mono text-[12px]">
          <span>{plan ? `${plan.video.raster.width}×${plan.video.raster.height}` : ''}</span>
          <span>{video ? `frame ${frame + 1} of ${video.frames}` : ''}</span>
        </div>
      </div>
      <BurnDocket
        recipe={recipe}
        deliverable={deliverable}
        layout={layout}
        place={place}
        onLayout={setLayout}
        onNothing={back}
      />
    </>
  );
}
