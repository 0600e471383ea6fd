import type { CommonCorrections } from '@relay/contract/corrections';
import { fieldNames, type FieldValues } from '@relay/core/corrections/fields';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { clipQuery, commonCorrectionsQuery } from '../api/queries.ts';
import { plural } from '../ui/format.ts';
import { blocks, Button, ProblemNote, problemOf } from '../ui/pieces.tsx';
import type { FormProps } from './formProps.ts';
import { RepairForm } from './repairForm.tsx';
import { ShapeForm } from './shapeForm.tsx';
import { SoundForm } from './soundForm.tsx';
import { TimeForm } from './timeForm.tsx';
import { useCorrect } from './useCorrect.ts';

/**
 * Corrections of a selection in the clip sheet: what will be done, what is mixed, and forms that change only what is
 * touched.
 */
export function SelectionCorrections({ production, ids }: { production: string; ids: readonly string[] }) {
  const { data: common, error } = useQuery(commonCorrectionsQuery(production, ids));
  const { data: first } = useQuery({ ...clipQuery(ids[0] ?? ''), enabled: ids.length > 0 });
  const [draft, setDraft] = useState<Partial<FieldValues>>({});
  const [open, setOpen] = useState<'shape' | 'time' | 'sound' | 'repair' | null>(null);
  const correct = useCorrect(production);
  if (error && blocks(error, common)) return <ProblemNote problem={problemOf(error)} />;
  if (!common || common.clips === 0) return null;
  const dirty = Object.keys(draft).length > 0;
  const form: FormProps | null = first?.description.video
    ? {
        clip: first.description,
        measured: ids.length === 1 ? first.measured : null,
        values: common.fields,
        from: ids.length === 1 ? first.inForce.from : {},
        mixed: common.mixed,
        draft,
        onChange: (fields) => setDraft({ ...draft, ...fields }),
      }
    : null;
  return (
    <section aria-label="Corrections" className="flex flex-col gap-2">
      <h3 className="font-semibold text-dim">Corrections</h3>
      <Said common={common} />
      {form && (
        <div role="group" aria-label="Correct" className="flex gap-1.5">
          {(['shape', 'time', 'sound', 'repair'] as const).map((part) => (
            <Button
              key={part}
              aria-expanded={open === part}
              className={`h-7 px-2.5 capitalize ${open === part ? 'bg-raised' : ''}`}
              onClick={() => setOpen(open === part ? null : part)}
            >
              {part}
            </Button>
          ))}
        </div>
      )}
      {form && open === 'shape' && <ShapeForm {...form} />}
      {form && open === 'time' && <TimeForm {...form} />}
      {form && open === 'sound' && <SoundForm {...form} />}
      {form && open === 'repair' && <RepairForm {...form} />}
      {dirty && (
        <div className="flex gap-2">
          <Button
            disabled={correct.isPending}
            className="border-clay"
            onClick={() =>
              correct.mutate({ to: { scope: 'clip', clips: ids }, fields: draft }, { onSuccess: () => setDraft({}) })
            }
          >
            Use on {plural(ids.length, 'clip')}
          </Button>
          <Button onClick={() => setDraft({})}>Take back</Button>
        </div>
      )}
    </section>
  );
}

function Said({ common }: { common: CommonCorrections }) {
  return (
    <>
      {common.mixed.length > 0 && (
        <p>
          <span className="text-amber">mixed</span>: {common.mixed.map((field) => fieldNames[field]).join(', ')}
        </p>
      )}
      {common.clips > 1 && (
        <ul className="text-dim">
          {common.said.slice(0, 6).map(({ text, clips }) => (
            <li key={text} className="flex justify-between gap-3">
              <span>{text}</span>
              <span className="shrink-0 font-mono text-faint">
                {clips} of {common.clips}
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
