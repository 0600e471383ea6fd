import { burnLayout } from '@relay/contract/burn';
import type { BenchAnswer } from '@relay/contract/bench';
import type { ClipAnswer } from '@relay/contract/clips';
import type { BurnLayout } from '@relay/core/burn/layout';
import { fromFields } from '@relay/core/corrections/fields';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import type { Deliverable, Recipe } from '@relay/core/recipe/recipe';
import { useMemo } from 'react';

/** The layout as it is kept: blank lines of a list that is being typed are no recipients yet. */
export function cleanedLayout(layout: BurnLayout): BurnLayout {
  if (!layout.mark) return layout;
  const recipients = layout.mark.recipients.map((who) => who.trim()).filter((who) => who !== '');
  return { ...layout, mark: { ...layout.mark, recipients } };
}

/** What is wrong with a layout, null if it can be kept. */
export function layoutProblem(layout: BurnLayout): string | null {
  const read = burnLayout.safeParse(layout);
  return read.success ? null : (read.error.issues[0]?.message ?? 'not as expected');
}

/** A day of this place as the plan writes it: 2026-03-09. */
function dayOf(date: Date): string {
  return [date.getFullYear(), date.getMonth() + 1, date.getDate()]
    .map((part) => String(part).padStart(2, '0'))
    .join('-');
}

interface On {
  bench: BenchAnswer | undefined;
  clip: ClipAnswer | undefined;
  /** The production's name. */
  production: string | null;
}

/** The output that a run would make of the clip with the layout over it; null while it cannot be planned. */
export function useBurnPlan(
  recipe: Recipe,
  deliverable: Deliverable,
  layout: BurnLayout,
  { bench, clip, production }: On,
): OutputPlan | null {
  return useMemo(() => {
    if (!bench || layoutProblem(layout) !== null) return null;
    const identity = clip?.identity;
    const planned = planLeg(
      { ...bench.description, reel: identity?.reel ?? bench.description.reel },
      { ...recipe, deliverables: [{ ...deliverable, burn: layout }] },
      fromFields(bench.inForce.fields),
      {
        scene: identity?.scene ?? null,
        take: identity?.take ?? null,
        camera: identity?.camera ?? null,
        production,
        date: dayOf(new Date()),
      },
    );
    return planned.ok ? (planned.value.outputs[0] ?? null) : null;
  }, [bench, clip, recipe, deliverable, layout, production]);
}
