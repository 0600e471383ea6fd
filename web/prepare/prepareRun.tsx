import type { RecipeAnswer } from '@relay/contract/recipes';
import { DocketForm } from '../ui/docketForm.tsx';
import { plural } from '../ui/format.ts';
import { Button, Field, inputLook, problemOf, ProblemLine } from '../ui/pieces.tsx';
import { isWrongHour } from './hours.ts';
import { OutputPlace } from './outputPlace.tsx';
import { RunFacts } from './runFacts.tsx';
import { RunWarnings } from './runWarnings.tsx';
import { useRunDraft, type Preparing } from './useRunDraft.ts';

interface PrepareProps {
  production: { id: string; name: string; runs: number };
  /** Ids of the clips. */
  clips: readonly string[];
  recipes: readonly RecipeAnswer[];
  onClose: () => void;
}

/** Before a run starts: what it will make, where, how much space it may need, and what stands in its way. */
export function PrepareRun({ production, clips, recipes, onClose }: PrepareProps) {
  const preparing = useRunDraft({ production, clips, recipes });
  const { facts, checkError, ready, start } = preparing;
  return (
    <DocketForm title={`Run ${plural(clips.length, 'clip')}`} ready={ready} onSend={start} onClose={onClose}>
      <Choices preparing={preparing} recipes={recipes} production={production.name} />
      {checkError && <ProblemLine problem={problemOf(checkError)} />}
      {facts && (
        <div aria-live="polite">
          <RunFacts facts={facts} preparing={preparing} />
          <RunWarnings facts={facts} gone={preparing.gone} mend={preparing.mend} />
        </div>
      )}
      <div className="flex items-center gap-2">
        <Button main type="submit" disabled={!ready}>
          {facts && facts.toDecide.length > 0 ? 'Start, with them as they are' : 'Start'}
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}

interface ChoicesProps {
  preparing: Preparing;
  recipes: readonly RecipeAnswer[];
  production: string;
}

/** What is said of the run: its name, recipe, place, order and hours. */
function Choices({ preparing, recipes, production }: ChoicesProps) {
  const { draft, change } = preparing;
  return (
    <>
      <Field label="Name">
        <input
          className={inputLook}
          value={draft.name}
          onChange={(event) => change({ name: event.target.value })}
          required
          maxLength={120}
        />
      </Field>
      <Field label="Recipe">
        <select className={inputLook} value={draft.recipe} onChange={(event) => change({ recipe: event.target.value })}>
          {recipes.map((one) => (
            <option key={one.id} value={one.id}>
              {one.definition.name}: {one.definition.deliverables.map((d) => d.name.toLowerCase()).join(', ')}
            </option>
          ))}
        </select>
      </Field>
      <OutputPlace preparing={preparing} production={production} />
      <Field label="Order">
        <select
          className={inputLook}
          value={draft.inWaves ? 'waves' : 'one'}
          onChange={(event) => change({ inWaves: event.target.value === 'waves' })}
        >
          <option value="one">clip by clip, one decode for all of it</option>
          <option value="waves">proxies of everything first, a second decode for intermediates</option>
        </select>
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Begin at">
          <Hour value={draft.notBefore} placeholder="at once" onChange={(notBefore) => change({ notBefore })} />
        </Field>
        <Field label="Wanted by">
          <Hour value={draft.wantedBy} placeholder="07:00" onChange={(wantedBy) => change({ wantedBy })} />
        </Field>
      </div>
    </>
  );
}

interface HourProps {
  value: string;
  placeholder: string;
  onChange: (value: string) => void;
}

/** An hour of the next 24, `HH:MM`; the browser's own field follows its language, not the room's clock. */
function Hour({ value, placeholder, onChange }: HourProps) {
  const wrong = isWrongHour(value);
  return (
    <input
      inputMode="numeric"
      maxLength={5}
      placeholder={placeholder}
      aria-invalid={wrong}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={`${inputLook} font-mono ${wrong ? 'border-rose' : ''}`}
    />
  );
}
