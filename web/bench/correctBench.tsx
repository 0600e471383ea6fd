import type { BenchAnswer } from '@relay/contract/bench';
import type { RuleScope } from '@relay/contract/chain';
import { over } from '@relay/core/corrections/corrections';
import { fromFields, type FieldValues } from '@relay/core/corrections/fields';
import type { LegPlan } from '@relay/core/recipe/legPlan';
import { planLeg } from '@relay/core/recipe/plan';
import { finishAndCut } from '@relay/core/recipe/recipe';
import { sayPlan } from '@relay/core/recipe/sentence';
import type { Result } from '@relay/core/result';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState, type ReactNode } from 'react';
import { recipesQuery } from '../api/queries.ts';
import type { FormProps } from '../corrections/formProps.ts';
import { RepairForm } from '../corrections/repairForm.tsx';
import { ShapeForm } from '../corrections/shapeForm.tsx';
import { SoundForm } from '../corrections/soundForm.tsx';
import { TimeForm } from '../corrections/timeForm.tsx';
import { useCorrect } from '../corrections/useCorrect.ts';
import { useKeys } from '../ui/keys.ts';
import { undoLastChange } from '../ui/undo.ts';
import { Button } from '../ui/pieces.tsx';
import { Docket } from './docketFrame.tsx';
import { DocketHead } from './docketHead.tsx';
import type { Part } from './parts.tsx';
import { RepairView } from './repairView.tsx';
import { ShapeView } from './shapeView.tsx';
import { SoundView } from './soundView.tsx';
import { TimeView } from './timeView.tsx';
import { useDraft } from './useDraft.ts';
import { ruleTo, UseForm } from './useOn.tsx';
import { useBenchPlace } from './useBenchPlace.ts';

type CorrectPart = Exclude<Part, 'colour'>;
type Fields = Partial<FieldValues>;

interface CorrectBenchProps {
  bench: BenchAnswer;
  production: string;
  part: CorrectPart;
  onPart: (part: Part) => void;
}

const forms: Readonly<Record<CorrectPart, (form: FormProps) => ReactNode>> = {
  shape: ShapeForm,
  time: TimeForm,
  sound: SoundForm,
  repair: RepairForm,
};

/** The first recipe's plan for the clip, with what holds for it and what is tried. */
function usePlan(bench: BenchAnswer, draft: Fields): Result<LegPlan> {
  const { data: recipes = [] } = useQuery(recipesQuery);
  const recipe = recipes[0]?.definition ?? finishAndCut;
  return useMemo(
    () => planLeg(bench.description, recipe, over(fromFields(bench.inForce.fields), fromFields(draft))),
    [bench, recipe, draft],
  );
}

const nothingTried: Fields = {};

/** Shape, time, sound and repair of the clip on the bench, live from the plan that would run. */
export function CorrectBench({ bench, production, part, onPart }: CorrectBenchProps) {
  const { selection, open, away } = useBenchPlace(production, part);
  const video = bench.description.video as NonNullable<BenchAnswer['description']['video']>;
  const { fields, from } = bench.inForce;
  const [tried, setDraft] = useDraft<Fields>(`corrections ${bench.clip}`, nothingTried);
  const draft = tried ?? nothingTried;
  const change = (changed: Fields): void => setDraft((now) => ({ ...now, ...changed }));
  const planned = usePlan(bench, draft);
  const outputs = planned.ok ? planned.value.outputs : [];
  const [frame, setFrame] = useState(Math.floor(video.frames * 0.4));
  const [at, setAt] = useState(0);
  const correct = useCorrect(production);
  const dirty = Object.keys(draft).length > 0;
  const use = (scope: RuleScope): void => {
    if (dirty)
      correct.mutate({ to: ruleTo(scope, bench, selection), fields: draft }, { onSuccess: () => setDraft(null) });
  };
  const step = (by: number): void =>
    part === 'time'
      ? setAt(Math.max(0, Math.min((outputs[0]?.video.frames ?? 1) - 1, at + by)))
      : setFrame(Math.max(0, Math.min(video.frames - 1, frame + by)));

  useKeys({
    u: undoLastChange,
    '[': () => open(bench.previous),
    ']': () => open(bench.next),
    ArrowRight: (event) => step(event.shiftKey ? 10 : 1),
    ArrowLeft: (event) => step(event.shiftKey ? -10 : -1),
    Escape: away,
  });

  const Form = forms[part];
  const repair = draft.repair === undefined ? fields.repair : draft.repair;
  const sound = draft.sound === undefined ? fields.sound : draft.sound;
  return (
    <>
      <div className="relative flex min-w-0 flex-1 flex-col bg-surround text-surround-ink">
        {part === 'shape' && <ShapeView bench={bench} outputs={outputs} frame={frame} />}
        {part === 'repair' && <RepairView bench={bench} repair={repair ?? null} frame={frame} />}
        {part === 'time' && <TimeView bench={bench} output={outputs[0]} at={at} onAt={setAt} />}
        {part === 'sound' && (
          <SoundView bench={bench} sound={sound ?? { kind: 'keep' }} onChange={(next) => change({ sound: next })} />
        )}
      </div>
      <Docket
        part={part}
        onPart={onPart}
        foot={
          <>
            <UseForm
              bench={bench}
              selection={selection}
              disabled={!dirty || correct.isPending || !planned.ok}
              onUse={use}
            />
            {dirty && (
              <div>
                <Button onClick={() => setDraft(null)}>Take back</Button>
              </div>
            )}
          </>
        }
      >
        <DocketHead bench={bench} onOther={open} />
        <Form
          clip={bench.description}
          measured={bench.measured}
          values={fields}
          from={from}
          draft={draft}
          onChange={change}
        />
        <RunWill planned={planned} />
      </Docket>
    </>
  );
}

/** What a run would do with the clip as it stands. */
function RunWill({ planned }: { planned: Result<LegPlan> }) {
  return (
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
  );
}
