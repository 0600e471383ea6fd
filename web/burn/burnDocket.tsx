import { recipeRows } from '@relay/contract/routes/recipes';
import type { RecipeAnswer } from '@relay/contract/recipes';
import type { BurnLayout } from '@relay/core/burn/layout';
import type { Deliverable } from '@relay/core/recipe/recipe';
import type { Anchor } from '@relay/core/shape/window';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import { ask } from '../api/client.ts';
import { Choice } from '../corrections/row.tsx';
import { Button, Field, toastProblem } from '../ui/pieces.tsx';
import { without } from '../ui/without.ts';
import { Lines } from './lines.tsx';
import { ImageForm, MarkForm } from './marks.tsx';
import { cleanedLayout, layoutProblem } from './useBurnPlan.ts';
import { docketWidth } from '../ui/docketWidth.ts';

const sizes = [
  ['small', 'small'],
  ['usual', 'usual'],
  ['large', 'large'],
] as const;

interface BurnDocketProps {
  recipe: RecipeAnswer;
  deliverable: Deliverable;
  layout: BurnLayout;
  /** The place whose lines are shown. */
  place: Anchor;
  onLayout: (layout: BurnLayout) => void;
  /** It is kept that nothing is drawn. */
  onNothing: () => void;
}

/** What is drawn, line by line, and keeping it. */
export function BurnDocket({ recipe, deliverable, layout, place, onLayout, onNothing }: BurnDocketProps) {
  const client = useQueryClient();
  const kept = deliverable.burn ?? null;
  const cleaned = cleanedLayout(layout);
  const wrong = layoutProblem(cleaned);
  const dirty = JSON.stringify(kept) !== JSON.stringify(cleaned);
  const keep = useMutation({
    mutationFn: (burn: BurnLayout | null) =>
      ask(recipeRows.changeDeliverable, { recipe: recipe.id, body: { folder: deliverable.folder, burn } }),
    onSuccess: (_, burn) => {
      void client.invalidateQueries({ queryKey: ['recipes'] });
      toast(burn ? 'Kept: every run from now on draws it' : 'Nothing is drawn over it any more');
      if (!burn) onNothing();
    },
    onError: toastProblem,
  });
  return (
    <aside aria-label="Docket" className={`flex ${docketWidth} shrink-0 flex-col border-l border-line bg-raised/40`}>
      <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto p-4">
        <div>
          <h1 className="text-[15px] font-semibold">Burn-in of the {deliverable.name.toLowerCase()}</h1>
          <p className="text-dim">{recipe.definition.name}</p>
        </div>
        <Field label="Size of text">
          <Choice
            label="Size of text"
            value={layout.size}
            options={sizes}
            onChange={(size) => onLayout({ ...layout, size })}
          />
        </Field>
        <Lines at={place} lines={layout.lines} onChange={(lines) => onLayout({ ...layout, lines })} />
        <MarkForm
          mark={layout.mark}
          onChange={(mark) => onLayout(mark ? { ...layout, mark } : without(layout, 'mark'))}
        />
        <ImageForm
          image={layout.image}
          onChange={(image) => onLayout(image ? { ...layout, image } : without(layout, 'image'))}
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
          {dirty && kept && <Button onClick={() => onLayout(kept)}>Take back</Button>}
        </div>
        {kept && (
          <Button disabled={keep.isPending} onClick={() => keep.mutate(null)}>
            Draw nothing over it
          </Button>
        )}
      </div>
    </aside>
  );
}
