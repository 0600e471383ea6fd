import type { BenchAnswer } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import { over } from '@relay/core/corrections/corrections';
import { fromFields, type FieldValues } from '@relay/core/corrections/fields';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { recipesQuery } from '../api/queries.ts';
import type { FormProps } from '../corrections/formProps.ts';
import { RepairForm } from '../corrections/repairForm.tsx';
import { ShapeForm } from '../corrections/shapeForm.tsx';
import { SoundForm } from '../corrections/soundForm.tsx';
import { TimeForm } from '../corrections/timeForm.tsx';
import { useCorrect } from '../corrections/useCorrect.ts';
import { useKeys } from '../ui/keys.tsx';
import { Button } from '../ui/pieces.tsx';
import { PartTabs, type Part } from './parts.tsx';
import { RepairView } from './repairView.tsx';
import { ShapeView } from './shapeView.tsx';
import { SoundView } from './soundView.tsx';
import { TimeView } from './timeView.tsx';
import { ruleTo, UseForm } from './useOn.tsx';

/** What was tried and not used yet, clip by clip. */
const drafts = new Map<string, Partial<FieldValues>>();

/** Shape, time, sound and repair of the clip on the bench, live from the plan that would run. */
export function CorrectBench({
  bench,
  production,
  part,
  onPart,
}: {
  bench: BenchAnswer;
  production: string;
  part: Exclude<Part, 'colour'>;
  onPart: (part: Part) => void;
}) {
  const go = useNavigate();
  const { state } = useLocation() as { state: { selection?: string[] } | null };
  const selection = state?.selection ?? [];
  const video = bench.description.video as NonNullable<BenchAnswer['description']['video']>;
  const [draft, keep] = useState<Partial<FieldValues>>(drafts.get(bench.clip) ?? {});
  const change = (fields: Partial<FieldValues>): void => {
    const next = { ...draft, ...fields };
    drafts.set(bench.clip, next);
    keep(next);
  };
  const forget = (): void => {
    drafts.delete(bench.clip);
    keep({});
  };
  const { data: recipes = [] } = useQuery(recipesQuery);
  const recipe = recipes[0]?.definition ?? finishAndCut;
  const corrections = useMemo(() => over(fromFields(bench.held.fields), fromFields(draft)), [bench.held, draft]);
  const planned = useMemo(
    () => planLeg(bench.description, recipe, corrections),
    [bench.description, recipe, corrections],
  );
  const outputs = planned.ok ? planned.value.outputs : [];
  const [frame, setFrame] = useState(Math.floor(video.frames * 0.4));
  const [at, setAt] = useState(0);
  const { correct, undoLast } = useCorrect(production);
  const dirty = Object.keys(draft).length > 0;
  const use = (scope: RuleScope): void => {
    if (!dirty) return;
    correct.mutate({ to: ruleTo(scope, bench, selection), fields: draft }, { onSuccess: forget });
  };
  const other = (id: string | null) => (): void => {
    if (id) void go(`/p/${production}/bench/${id}?part=${part}`, { state });
  };
  const step = (by: number): void =>
    part === 'time'
      ? setAt(Math.max(0, Math.min((outputs[0]?.video.frames ?? 1) - 1, at + by)))
      : setFrame(Math.max(0, Math.min(video.frames - 1, frame + by)));
  useKeys({
    u: undoLast,
    '[': other(bench.previous),
    ']': other(bench.next),
    ArrowRight: (event) => step(event.shiftKey ? 10 : 1),
    ArrowLeft: (event) => step(event.shiftKey ? -10 : -1),
    Escape: () => void go(`/p/${production}/bench`),
  });
  const form: FormProps = {
    clip: bench.description,
    measured: bench.measured,
    values: bench.held.fields,
    from: bench.held.from,
    draft,
    onChange: change,
  };
  return (
    <>
      <div className="relative flex min-w-0 flex-1 flex-col bg-neutral-surround text-[#d8d8d8]">
        {part === 'shape' && <ShapeView bench={bench} outputs={outputs} frame={frame} />}
        {part === 'repair' && (
          <RepairView
            bench={bench}
            repair={(draft.repair === undefined ? bench.held.fields.repair : draft.repair) ?? null}
            frame={frame}
          />
        )}
        {part === 'time' && <TimeView bench={bench} output={outputs[0]} at={at} onAt={setAt} />}
        {part === 'sound' && (
          <SoundView
            bench={bench}
            sound={(draft.sound === undefined ? bench.held.fields.sound : draft.sound) ?? { kind: 'keep' }}
            onChange={(sound) => change({ sound })}
          />
        )}
      </div>
      <aside aria-label="Docket" className="flex w-[336px] shrink-0 flex-col border-l border-line bg-raised/40">
        <PartTabs part={part} onPart={onPart} />
        <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto p-4">
          <div>
            <div className="flex items-baseline justify-between gap-2">
              <h1 className="truncate text-[15px] font-semibold">{bench.stem}</h1>
              <span className="flex shrink-0 items-center gap-1 font-mono text-[11px] text-dim">
                <button
                  type="button"
                  aria-label="Clip before"
                  disabled={!bench.previous}
                  onClick={other(bench.previous)}
                  className="rounded px-1 hover:text-ink disabled:opacity-30"
                >
                  [
                </button>
                {bench.position} of {bench.of}
                <button
                  type="button"
                  aria-label="Next clip"
                  disabled={!bench.next}
                  onClick={other(bench.next)}
                  className="rounded px-1 hover:text-ink disabled:opacity-30"
                >
                  ]
                </button>
              </span>
            </div>
            <p className="text-dim">{bench.group.text}</p>
          </div>
          {part === 'shape' && <ShapeForm {...form} />}
          {part === 'time' && <TimeForm {...form} />}
          {part === 'sound' && <SoundForm {...form} />}
          {part === 'repair' && <RepairForm {...form} />}
          <section aria-label="What a run will do" aria-live="polite">
            <h2 className="mb-1 font-semibold text-dim">A run will</h2>
            {planned.ok ? (
              <p>
                {sayPlan(planned.value)
                  .map((line) => `${line}.`)
                  .join(' ')}
              </p>
            ) : (
              <p role="alert" className="text-rose">
                {planned.problem.what}. <span className="text-dim">{planned.problem.remedy}.</span>
              </p>
            )}
          </section>
        </div>
        <div className="flex flex-col gap-2 border-t border-line p-4 py-3">
          <UseForm
            bench={bench}
            selection={selection}
            disabled={!dirty || correct.isPending || !planned.ok}
            onUse={use}
          />
          {dirty && (
            <div>
              <Button onClick={forget}>Take back</Button>
            </div>
          )}
        </div>
      </aside>
    </>
  );
}
