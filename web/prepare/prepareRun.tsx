import type { RecipeAnswer } from '@relay/contract/recipes';
import type { ComponentProps } from 'react';
import { DocketForm } from '../ui/docketForm.tsx';
import { plural } from '../ui/format.ts';
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
