import { recipeRows } from '@relay/contract/routes/recipes';
import type { RecipeAnswer } from '@relay/contract/recipes';
import { burnLayout } from '@relay/contract/burn';
import { viewingLayout, type BurnLayout } from '@relay/core/burn/layout';
import { fromFields } from '@relay/core/corrections/fields';
import { planLeg } from '@relay/core/recipe/plan';
import { anchors, type Anchor } from '@relay/core/shape/window';
import { toNumber } from '@relay/core/time/rational';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { benchGroupsQuery, benchQuery, clipQuery, productionQuery, recipesQuery } from '../api/queries.ts';
import { drawAfter, inside, type Box } from '../bench/drawShape.ts';
import { useStill } from '../bench/still.ts';
import { Choice } from '../corrections/row.tsx';
import { useKeys } from '../ui/keys.tsx';
import { Button, Loading, ProblemNote, problemOf, toastProblem } from '../ui/pieces.tsx';
import { PictureCanvas } from '../ui/pictureCanvas.tsx';
import { drawBurn } from './drawBurn.ts';
import { Lines } from './lines.tsx';
import { ImageForm, MarkForm } from './marks.tsx';
import { useLaidImage } from './useLaidImage.ts';

/** What is drawn over a deliverable's pictures: laid out on a clip of the production, from the plan that runs. */
export function BurnPage() {
  const { recipe: id = '' } = useParams();
  const [search] = useSearchParams();
  const { data, error, refetch } = useQuery(recipesQuery);
  if (error) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
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
  return <Editor key={`${recipe.id} ${deliverable.folder}`} recipe={recipe} folder={deliverable.folder} />;
}

const today = new Date();
const day = [today.getFullYear(), today.getMonth() + 1, today.getDate()]
  .map((part) => String(part).padStart(2, '0'))
  .join('-');
const sizes = [
  ['small', 'small'],
  ['usual', 'usual'],
  ['large', 'large'],
] as const;

function Editor({ recipe, folder }: { recipe: RecipeAnswer; folder: string }) {
  const { production = '' } = useParams();
  const go = useNavigate();
  const client = useQueryClient();
  const deliverable = recipe.definition.deliverables.find(
    (one) => one.folder === folder,
  ) as RecipeAnswer['definition']['deliverables'][number];
  const kept = deliverable.burn ?? null;
  const [layout, setLayout] = useState<BurnLayout>(kept ?? viewingLayout);
  const [place, setPlace] = useState<Anchor>('bottom left');
  const [chosen, setChosen] = useState<string | null>(null);
  const [frame, setFrame] = useState(0);
  const { data: groups } = useQuery(benchGroupsQuery(production));
  const { data: name } = useQuery(productionQuery(production));
  const clip = chosen ?? groups?.[0]?.first ?? '';
  const { data: bench } = useQuery({ ...benchQuery(clip), enabled: clip !== '' });
  const { data: facts } = useQuery({ ...clipQuery(clip), enabled: clip !== '' });
  const video = bench?.description.video ?? null;
  const { image: still } = useStill(clip, frame, 1280);
  // Blank lines of a list that is being typed are no recipients yet.
  const cleaned = useMemo<BurnLayout>(
    () =>
      layout.mark
        ? {
            ...layout,
            mark: {
              ...layout.mark,
              recipients: layout.mark.recipients.map((who) => who.trim()).filter((who) => who !== ''),
            },
          }
        : layout,
    [layout],
  );
  const wrong = useMemo(() => {
    const read = burnLayout.safeParse(cleaned);
    return read.success ? null : (read.error.issues[0]?.message ?? 'not as expected');
  }, [cleaned]);
  const plan = useMemo(() => {
    if (!bench || wrong) return null;
    const identity = facts?.identity;
    const planned = planLeg(
      { ...bench.description, reel: identity?.reel ?? bench.description.reel },
      { ...recipe.definition, deliverables: [{ ...deliverable, burn: cleaned }] },
      fromFields(bench.held.fields),
      {
        scene: identity?.scene ?? null,
        take: identity?.take ?? null,
        camera: identity?.camera ?? null,
        production: name?.name ?? null,
        date: day,
      },
    );
    return planned.ok ? (planned.value.outputs[0] ?? null) : null;
  }, [bench, facts, recipe, deliverable, cleaned, name, wrong]);
  const laid = useLaidImage(layout.image?.image);
  const dirty = JSON.stringify(kept) !== JSON.stringify(cleaned);
  const keep = useMutation({
    mutationFn: (burn: BurnLayout | null) =>
      ask(recipeRows.changeDeliverable, { recipe: recipe.id, body: { folder, burn } }),
    onSuccess: (_, burn) => {
      void client.invalidateQueries({ queryKey: ['recipes'] });
      toast(burn ? 'Kept: every run from now on draws it' : 'Nothing is drawn over it any more');
      if (!burn) void go(`/p/${production}/recipes`);
    },
    onError: toastProblem,
  });
  const boxOf = (size: { width: number; height: number }): Box | null =>
    plan
      ? inside(
          { x: 12, y: 12, width: size.width - 24, height: size.height - 24 },
          (plan.video.raster.width * toNumber(plan.video.pixelAspect)) / plan.video.raster.height,
        )
      : null;
  const draw = (context: CanvasRenderingContext2D, size: { width: number; height: number }): void => {
    const box = boxOf(size);
    if (!box || !plan?.burn || !plan.video.geometry || !still || !video) return;
    drawAfter(context, box, still, plan.video.geometry, video, { guides: false, circle: false });
    drawBurn(context, box, plan.burn, frame, laid);
  };
  const other = (to: string | null | undefined) => (): void => {
    if (to) {
      setChosen(to);
      setFrame(0);
    }
  };
  const step = (by: number): void => setFrame(Math.max(0, Math.min((video?.frames ?? 1) - 1, frame + by)));
  useKeys({
    '[': other(bench?.previous),
    ']': other(bench?.next),
    ArrowRight: (event) => step(event.shiftKey ? 10 : 1),
    ArrowLeft: (event) => step(event.shiftKey ? -10 : -1),
    Escape: () => void go(`/p/${production}/recipes`),
  });
  return (
    <>
      <div className="flex min-h-0 min-w-0 flex-1 flex-col bg-neutral-surround text-[#d8d8d8]">
        <div className="flex h-10 shrink-0 items-center justify-between gap-3 px-3">
          <span>Choose a place in the picture; lines stand within the title-safe area</span>
          {bench && (
            <span className="flex items-center gap-1 font-mono text-[12px]">
              <button
                type="button"
                aria-label="Clip before"
                disabled={!bench.previous}
                onClick={other(bench.previous)}
                className="rounded px-1 hover:text-white disabled:opacity-30"
              >
                [
              </button>
              {bench.stem}
              <button
                type="button"
                aria-label="Next clip"
                disabled={!bench.next}
                onClick={other(bench.next)}
                className="rounded px-1 hover:text-white disabled:opacity-30"
              >
                ]
              </button>
            </span>
          )}
        </div>
        <PictureCanvas
          label="The deliverable's picture with its burn-in"
          draw={draw}
          over={(size) => {
            const box = boxOf(size);
            return box && <Places box={box} layout={layout} place={place} onPlace={setPlace} />;
          }}
        />
        {clip === '' && groups && (
          <p className="px-4 py-2">
            No clip is in this production yet: the layout is kept all the same, and seen once there is one.
          </p>
        )}
        <div className="flex h-8 shrink-0 items-center justify-between px-3 font-mono text-[12px]">
          <span>{plan ? `${plan.video.raster.width}×${plan.video.raster.height}` : ''}</span>
          <span>{video ? `frame ${frame + 1} of ${video.frames}` : ''}</span>
        </div>
      </div>
      <aside aria-label="Docket" className="flex w-[336px] shrink-0 flex-col border-l border-line bg-raised/40">
        <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto p-4">
          <div>
            <h1 className="text-[15px] font-semibold">Burn-in of the {deliverable.name.toLowerCase()}</h1>
            <p className="text-dim">{recipe.definition.name}</p>
          </div>
          <label className="flex flex-col gap-1">
            <span className="text-dim">Size of text</span>
            <Choice
              label="Size of text"
              value={layout.size}
              options={sizes}
              onChange={(size) => setLayout({ ...layout, size })}
            />
          </label>
          <Lines at={place} lines={layout.lines} onChange={(lines) => setLayout({ ...layout, lines })} />
          <MarkForm
            mark={layout.mark}
            onChange={(mark) =>
              setLayout(
                mark
                  ? { ...layout, mark }
                  : { size: layout.size, lines: layout.lines, ...(layout.image ? { image: layout.image } : {}) },
              )
            }
          />
          <ImageForm
            image={layout.image}
            onChange={(image) =>
              setLayout(
                image
                  ? { ...layout, image }
                  : { size: layout.size, lines: layout.lines, ...(layout.mark ? { mark: layout.mark } : {}) },
              )
            }
          />
        </div>
        <div className="flex flex-col gap-2 border-t border-line p-4 py-3">
          {wrong && (
            <p role="alert" className="text-rose">
              {wrong}
            </p>
          )}
          <div className="flex gap-2">
            <Button
              main
              className="flex-1"
              disabled={!dirty || wrong !== null || keep.isPending}
              onClick={() => keep.mutate(cleaned)}
            >
              {dirty ? 'Keep' : 'Kept'}
            </Button>
            {dirty && kept && <Button onClick={() => setLayout(kept)}>Take back</Button>}
          </div>
          {kept && (
            <Button disabled={keep.isPending} onClick={() => keep.mutate(null)}>
              Draw nothing over it
            </Button>
          )}
        </div>
      </aside>
    </>
  );
}

/** The nine places of the safe grid, over the picture. */
function Places({
  box,
  layout,
  place,
  onPlace,
}: {
  box: Box;
  layout: BurnLayout;
  place: Anchor;
  onPlace: (place: Anchor) => void;
}) {
  return (
    <div
      role="group"
      aria-label="Places"
      className="absolute grid grid-cols-3 grid-rows-3"
      style={{
        left: box.x + box.width * 0.05,
        top: box.y + box.height * 0.05,
        width: box.width * 0.9,
        height: box.height * 0.9,
      }}
    >
      {anchors.map((at) => {
        const count = layout.lines.filter((line) => line.at === at).length;
        return (
          <button
            key={at}
            type="button"
            aria-pressed={place === at}
            aria-label={`${at}, ${count === 1 ? '1 line' : `${count} lines`}`}
            onClick={() => onPlace(at)}
            className={`border border-dashed ${place === at ? 'border-white/80' : 'border-white/15 hover:border-white/50'}`}
          />
        );
      })}
    </div>
  );
}
