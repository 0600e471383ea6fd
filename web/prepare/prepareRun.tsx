import type { RecipeAnswer } from '@relay/contract/recipes';
import type { RunCheck } from '@relay/contract/runs';
import { useState, type ComponentProps } from 'react';
import { DocketForm } from '../ui/docketForm.tsx';
import { plural, slug } from '../ui/format.ts';
import { NumberField } from '../ui/numberField.tsx';
import { Button, Field, inputLook, problemOf, ProblemLine } from '../ui/pieces.tsx';
import { OutputPlaces } from './outputPlaces.tsx';
import { RunFacts } from './runFacts.tsx';
import { RunWarnings } from './runWarnings.tsx';
import { useRunDraft, type Preparing } from './useRunDraft.ts';

interface PrepareProps {
  production: { id: string; name: string; runs: number };
  /** Ids of the clips. */
  clips: readonly string[];
  recipes: readonly RecipeAnswer[];
  onClose: () => void;
  /** For a cut: a version of it, whose stretches of the clips are made. */
  pull?: { version: string; cut: string; number: number };
}

/** Before a run starts: what it will make, where, how much space it may need, and what stands in its way. */
export function PrepareRun({ production, clips, recipes, onClose, pull }: PrepareProps) {
  const [{ handles, gap }, setTaken] = useState({ handles: 12, gap: 12 });
  const preparing = useRunDraft({
    production,
    clips,
    recipes,
    ...(pull ? { pull: { version: pull.version, handles, gap }, named: pulledAs(pull, production.name) } : {}),
  });
  const { facts, checkError, ready, start } = preparing;
  return (
    <DocketForm
      title={pull ? `Pull for version ${pull.number}` : `Run ${plural(clips.length, 'clip')}`}
      ready={ready}
      onSend={start}
      onClose={onClose}
    >
      {pull && <Taken handles={handles} gap={gap} facts={facts} onTaken={setTaken} />}
      <Choices preparing={preparing} recipes={recipes} production={production.name} />
      {checkError && <ProblemLine problem={problemOf(checkError)} />}
      {facts && (
        <div aria-live="polite">
          <RunFacts facts={facts} preparing={preparing} />
          <RunWarnings facts={facts} mend={preparing.mend} />
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

/** What a pull is called, and the folder that it goes to. */
function pulledAs({ cut, number }: { cut: string; number: number }, production: string) {
  return {
    name: `Pull for ${cut}, version ${number}`.slice(0, 120),
    folder: `${slug(production, 'outputs')}-pulls/${slug(cut, 'cut')}-${number}`,
  };
}

interface TakenProps {
  handles: number;
  gap: number;
  facts: RunCheck | undefined;
  onTaken: (taken: { handles: number; gap: number }) => void;
}

/** How much is taken around what the cut needs, and what comes of that. */
function Taken({ handles, gap, facts, onTaken }: TakenProps) {
  const pull = facts?.pull;
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Handles">
          <NumberField
            label="Handles"
            unit="frames"
            value={handles}
            least={0}
            most={100_000}
            whole
            onChange={(value) => onTaken({ handles: value ?? 0, gap })}
          />
        </Field>
        <Field label="Gaps closed up to">
          <NumberField
            label="Gaps closed up to"
            unit="frames"
            value={gap}
            least={0}
            most={100_000}
            whole
            onChange={(value) => onTaken({ handles, gap: value ?? 0 })}
          />
        </Field>
      </div>
      {pull && (
        <p className="text-dim">
          {plural(pull.stretches, 'stretch', 'stretches')} of {plural(pull.frames, 'frame')} in all
          {pull.short > 0 ? `; ${pull.short} with shorter handles, where a clip begins or ends` : ''}
          {pull.nearly > 0 ? `; ${plural(pull.nearly, 'event')} only nearly found` : ''}
          {pull.left > 0 ? `; ${plural(pull.left, 'event')} of no clip here` : ''}.
        </p>
      )}
    </>
  );
}

interface ChoicesProps {
  preparing: Preparing;
  recipes: readonly RecipeAnswer[];
  production: string;
}

/** What is said of the run: its name, recipe, places, order and hours. */
function Choices({ preparing, recipes, production }: ChoicesProps) {
  const { form, draft, chooseRecipe } = preparing;
  const { errors } = form.formState;
  return (
    <>
      <Field label="Name">
        <input
          className={inputLook}
          maxLength={120}
          aria-invalid={errors.name !== undefined}
          {...form.register('name')}
        />
      </Field>
      <Field label="Recipe">
        <select className={inputLook} value={draft.recipe} onChange={(event) => chooseRecipe(event.target.value)}>
          {recipes.map((one) => (
            <option key={one.id} value={one.id}>
              {one.definition.name}: {one.definition.deliverables.map((d) => d.name.toLowerCase()).join(', ')}
            </option>
          ))}
        </select>
      </Field>
      <OutputPlaces preparing={preparing} production={production} />
      <Field label="Order">
        <select
          className={inputLook}
          value={draft.inWaves ? 'waves' : 'one'}
          onChange={(event) => form.setValue('inWaves', event.target.value === 'waves', { shouldDirty: true })}
        >
          <option value="one">clip by clip, one decode for all of it</option>
          <option value="waves">proxies of everything first, a second decode for intermediates</option>
        </select>
      </Field>
      <div className="grid grid-cols-2 gap-2">
        <Field label="Begin at">
          <Hour placeholder="at once" wrong={errors.notBefore !== undefined} {...form.register('notBefore')} />
        </Field>
        <Field label="Wanted by">
          <Hour placeholder="07:00" wrong={errors.wantedBy !== undefined} {...form.register('wantedBy')} />
        </Field>
      </div>
    </>
  );
}

/** An hour of the next 24, `HH:MM`; the browser's own field follows its language, not the room's clock. */
function Hour({ wrong, ...rest }: ComponentProps<'input'> & { wrong: boolean }) {
  return (
    <input inputMode="numeric" maxLength={5} aria-invalid={wrong} className={`${inputLook} font-mono`} {...rest} />
  );
}
