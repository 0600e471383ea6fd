import { zodResolver } from '@hookform/resolvers/zod';
import { inletDefinition, type InletDefinition } from '@relay/contract/inlets';
import { formatSqueeze, squeezes } from '@relay/core/shape/pixelAspects';
import { equal } from '@relay/core/time/rational';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import type { z } from 'zod';
import { recipesQuery, storesQuery } from '../api/queries.ts';
import { DocketForm } from '../ui/docketForm.tsx';
import { FolderChooser } from '../ui/folderChooser.tsx';
import { NumberField } from '../ui/numberField.tsx';
import { Button, Field, inputLook } from '../ui/pieces.tsx';
import { SearchChoice } from '../ui/searchChoice.tsx';

interface InletFormProps {
  title: string;
  action: string;
  saved: InletDefinition;
  busy: boolean;
  onSend: (said: InletDefinition) => void;
  onClose: () => void;
}

type Say = (part: Partial<InletDefinition>) => void;
interface Part {
  says: InletDefinition;
  say: Say;
}

/** An inlet as it is made or changed: where from, what of it, where to; the rest stands as most want it. */
export function InletForm({ title, action, saved, busy, onSend, onClose }: InletFormProps) {
  const form = useForm<InletDefinition, unknown, InletDefinition>({
    values: saved,
    resetOptions: { keepDirtyValues: true },
    resolver: zodResolver<InletDefinition, unknown, InletDefinition>(
      inletDefinition as z.ZodType<InletDefinition, InletDefinition>,
    ),
    mode: 'onChange',
  });
  const says = useWatch({ control: form.control }) as InletDefinition;
  const problems = useMemo(() => inletDefinition.safeParse(says).error?.issues ?? [], [says]);
  const say: Say = (part) => {
    for (const [name, value] of Object.entries(part) as [keyof InletDefinition, never][])
      form.setValue(name, value, { shouldDirty: true, shouldValidate: true });
  };
  const ready = problems.length === 0 && !busy;
  return (
    <DocketForm title={title} ready={ready} onSend={() => onSend(says)} onClose={onClose}>
      <Field label="Name">
        <input className={inputLook} {...form.register('name')} />
      </Field>
      <From says={says} say={say} />
      {says.recipes.map((_, index) => (
        <Makes key={index} index={index} says={says} say={say} />
      ))}
      <When says={says} say={say} />
      <details className="rounded-lg border border-line px-3 py-2">
        <summary className="cursor-pointer text-dim">More for this inlet</summary>
        <div className="mt-3 flex flex-col gap-3">
          <Before says={says} say={say} />
          <Whole says={says} say={say} />
          <Decisions says={says} say={say} />
          <More says={says} say={say} />
        </div>
      </details>
      {problems.slice(0, 3).map(({ path, message }) => (
        <p key={path.join('.')} role="alert" className="text-rose">
          {path.length > 0 ? `${sayPath(path)}: ` : ''}
          {message}
        </p>
      ))}
      <div className="flex gap-2">
        <Button main type="submit" disabled={!ready}>
          {action}
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}

const partNames: Readonly<Record<string, string>> = {
  name: 'Name',
  recipes: 'Recipe',
  source: 'Folder',
  quietSeconds: 'Quiet for',
  partner: 'Ending',
  before: 'Before',
  begin: 'Begins',
};

function sayPath(path: readonly PropertyKey[]): string {
  const [first = ''] = path;
  return partNames[String(first)] ?? String(first);
}

function From({ says: { source }, say }: Part) {
  // The folder that was chosen comes back with its kind.
  const [folders, setFolders] = useState(source.kind === 'folders' ? source.folders : []);
  const { data: stores = [] } = useQuery(storesQuery);
  const watch = (place: { store: string; folder: string }): void => {
    setFolders([place]);
    say({ source: { kind: 'folders', folders: [place] } });
  };
  const place = source.kind === 'folders' ? (source.folders[0] ?? { store: '', folder: '' }) : null;
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="sr-only">What is taken up</legend>
      <Field label="What is taken up">
        <select
          className={inputLook}
          value={source.kind}
          onChange={({ target }) =>
            target.value === 'rolls'
              ? say({ source: { kind: 'rolls' } })
              : watch(folders[0] ?? { store: stores[0]?.id ?? '', folder: '' })
          }
        >
          <option value="folders">what arrives in a folder</option>
          <option value="rolls">every roll of this production that is proved from now on</option>
        </select>
      </Field>
      {place && (
        <>
          <div className="[&>div]:min-h-40 [&>div]:grid-cols-[8.5rem_1fr] [&_ul]:max-h-52">
            <FolderChooser place={place} onChoose={({ store, folder }) => watch({ store, folder })} />
          </div>
          <Field label="Folder that is watched">
            <input
              className={`${inputLook} font-mono`}
              placeholder="the store itself"
              value={place.folder}
              spellCheck={false}
              onChange={({ target }) => watch({ ...place, folder: target.value })}
            />
          </Field>
        </>
      )}
    </fieldset>
  );
}

function Makes({ index, says: { recipes }, say }: Part & { index: number }) {
  const { data: all = [] } = useQuery(recipesQuery);
  const { data: stores = [] } = useQuery(storesQuery);
  const one = recipes[index];
  if (!one) return null;
  const change = (part: Partial<typeof one>): void =>
    say({ recipes: recipes.map((other, at) => (at === index ? { ...other, ...part } : other)) });
  const known = all.find(({ id }) => id === one.recipe);
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="mb-1 flex w-full items-center font-semibold text-dim">
        {index === 0 ? 'Is made by' : 'And by'}
        {recipes.length > 1 && (
          <Button
            className="ml-auto h-7 px-2.5"
            onClick={() => say({ recipes: recipes.filter((_, at) => at !== index) })}
          >
            Take away
          </Button>
        )}
      </legend>
      <SearchChoice
        label="Recipe"
        shown={known?.definition.name ?? 'Choose a recipe'}
        value={one.recipe}
        nothing="No recipe is called so"
        groups={[{ options: all.map(({ id, definition }) => ({ value: id, name: definition.name })) }]}
        onChoose={(recipe) => change({ recipe })}
      />
      <div className="grid grid-cols-[9rem_1fr] gap-2">
        <Field label="Onto">
          <select className={inputLook} value={one.store} onChange={({ target }) => change({ store: target.value })}>
            {stores
              .filter((store) => !store.bay && !store.readOnly)
              .map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
          </select>
        </Field>
        <Field label="Folder">
          <input
            className={`${inputLook} font-mono`}
            placeholder="the store itself"
            value={one.folder}
            spellCheck={false}
            onChange={({ target }) => change({ folder: target.value })}
          />
        </Field>
      </div>
      {index === recipes.length - 1 && recipes.length < 4 && (
        <Button
          className="h-7 w-fit px-2.5"
          onClick={() => {
            const next = all.find(({ id }) => !recipes.some(({ recipe }) => recipe === id)) ?? all[0];
            if (next) say({ recipes: [...recipes, { recipe: next.id, store: one.store, folder: one.folder }] });
          }}
        >
          Another recipe
        </Button>
      )}
    </fieldset>
  );
}

function When({ says: { quietSeconds, begin }, say }: Part) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Quiet for">
        <NumberField
          label="Quiet for"
          unit="s"
          least={1}
          most={86_400}
          digits={0}
          value={quietSeconds}
          onChange={(value) => value !== null && say({ quietSeconds: value })}
        />
      </Field>
      <Field label="Begins">
        <select
          className={inputLook}
          value={begin.kind}
          onChange={({ target }) => {
            const kind = target.value as InletDefinition['begin']['kind'];
            say({ begin: kind === 'at' ? { kind, time: '22:00' } : { kind } });
          }}
        >
          <option value="at once">at once</option>
          <option value="after quiet hours">after the quiet hours</option>
          <option value="at">at a time of day</option>
        </select>
      </Field>
      {begin.kind === 'at' && (
        <Field label="From">
          <input
            className={`${inputLook} font-mono`}
            value={begin.time}
            placeholder="22:00"
            onChange={({ target }) => say({ begin: { kind: 'at', time: target.value } })}
          />
        </Field>
      )}
    </div>
  );
}

function Before({ says: { before }, say }: Part) {
  const chosen = before.squeeze ? formatSqueeze(before.squeeze) : '';
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Lens squeeze, where none is said">
        <select
          className={inputLook}
          value={chosen}
          onChange={({ target }) => {
            const row = squeezes.find(({ squeeze }) => formatSqueeze(squeeze) === target.value);
            say({ before: { ...before, squeeze: row?.squeeze ?? null } });
          }}
        >
          <option value="">none</option>
          {squeezes
            .filter(({ squeeze }) => !equal(squeeze, { num: 1, den: 1 }))
            .map(({ squeeze, written }) => (
              <option key={written} value={formatSqueeze(squeeze)}>
                {written}
              </option>
            ))}
        </select>
      </Field>
      <Field label="Reel from the name, where it has none">
        <input
          className={`${inputLook} font-mono`}
          placeholder="[name 1-4]"
          value={before.reel ?? ''}
          spellCheck={false}
          onChange={({ target }) => say({ before: { ...before, reel: target.value === '' ? null : target.value } })}
        />
      </Field>
    </div>
  );
}

function Whole({ says: { partner }, say }: Part) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="A file that says it is whole ends in">
        <input
          className={`${inputLook} font-mono`}
          placeholder="done"
          value={partner?.ending ?? ''}
          spellCheck={false}
          onChange={({ target }) =>
            say({
              partner: target.value === '' ? null : { ending: target.value, needed: partner?.needed ?? false },
            })
          }
        />
      </Field>
      {partner && (
        <label className="flex items-end gap-2 pb-1.5">
          <input
            type="checkbox"
            className="mb-1"
            checked={partner.needed}
            onChange={({ target }) => say({ partner: { ...partner, needed: target.checked } })}
          />
          nothing is taken up without
        </label>
      )}
    </div>
  );
}

function Decisions({ says: { decide }, say }: Part) {
  return (
    <Field label="What needs a decision">
      <select
        className={inputLook}
        value={decide}
        onChange={({ target }) => say({ decide: target.value as InletDefinition['decide'] })}
      >
        <option value="go on">goes on as it is</option>
        <option value="wait">waits for a person</option>
      </select>
    </Field>
  );
}

function More({ says: { priority, takesResults }, say }: Part) {
  return (
    <div className="grid grid-cols-2 items-end gap-3">
      <Field label="Priority of its runs">
        <NumberField
          label="Priority of its runs"
          least={-5}
          most={5}
          digits={0}
          value={priority}
          onChange={(value) => value !== null && say({ priority: value })}
        />
      </Field>
      <label className="flex items-center gap-2 pb-1.5">
        <input
          type="checkbox"
          checked={takesResults}
          onChange={({ target }) => say({ takesResults: target.checked })}
        />
        takes results of ours up, too
      </label>
    </div>
  );
}
