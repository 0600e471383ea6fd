import { zodResolver } from '@hookform/resolvers/zod';
import { inletDefinition, type InletDefinition } from '@relay/contract/inlets';
import { useMemo } from 'react';
import { useForm, useWatch } from 'react-hook-form';
import type { z } from 'zod';
import { DocketForm } from '../ui/docketForm.tsx';
import { Button, Field, inputLook } from '../ui/pieces.tsx';
import { InletMakes } from './inletMakes.tsx';
import { InletMore, InletWhen } from './inletMore.tsx';
import type { Part } from './inletPart.ts';
import { InletSource } from './inletSource.tsx';

interface InletFormProps {
  production: string;
  title: string;
  action: string;
  saved: InletDefinition;
  busy: boolean;
  onSend: (said: InletDefinition) => void;
  onClose: () => void;
}

/** An inlet as it is made or changed: where from, what of it, where to; the rest stands as most want it. */
export function InletForm({ production, title, action, saved, busy, onSend, onClose }: InletFormProps) {
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
  const say: Part['say'] = (part) => {
    for (const [name, value] of Object.entries(part) as [keyof InletDefinition, never][])
      form.setValue(name, value, { shouldDirty: true, shouldValidate: true });
  };
  const ready = problems.length === 0 && !busy;
  return (
    <DocketForm title={title} ready={ready} onSend={() => onSend(says)} onClose={onClose}>
      <Field label="Name">
        <input className={inputLook} {...form.register('name')} />
      </Field>
      <InletSource says={says} say={say} />
      {says.recipes.map((_, index) => (
        <InletMakes key={index} index={index} says={says} say={say} />
      ))}
      <InletWhen says={says} say={say} />
      <InletMore production={production} says={says} say={say} />
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
