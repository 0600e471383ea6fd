import type { IdentityChange, IdentityChanged } from '@relay/contract/clips';
import { identityFields, identityLimits, type Identity, type IdentityField } from '@relay/core/identity/identity';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { identityRows } from '@relay/contract/routes/identity';
import { ask, Refused } from '../api/client.ts';
import { plural } from '../ui/format.ts';
import { inputLook, problemOf, toastProblem } from '../ui/pieces.tsx';
import { toast } from 'sonner';
import { sayUndoable } from '../ui/undo.ts';

const labels: Readonly<Record<IdentityField, string>> = {
  reel: 'Reel',
  scene: 'Scene',
  take: 'Take',
  camera: 'Camera',
  note: 'Note',
};

/** After identity was changed: shown, with the way back. */
export function useSayIdentity(): (change: Promise<IdentityChanged>) => Promise<IdentityChanged | null> {
  const client = useQueryClient();
  const fresh = (): Promise<void> => client.invalidateQueries({ queryKey: ['clips'] });
  return async (changing) => {
    try {
      const made = await changing;
      await fresh();
      sayUndoable(`Changed on ${plural(made.clips, 'clip')}`, () =>
        ask(identityRows.undo, { change: made.change }).then(fresh),
      );
      return made;
    } catch (error) {
      toastProblem(error);
      // Somebody else was first: show what they said.
      if (error instanceof Refused && error.status === 409) await fresh();
      return null;
    }
  };
}

interface IdentityFormProps {
  production: string;
  clips: readonly { id: string; version: number }[];
  /** Undefined where the clips differ. */
  values: Record<IdentityField, string | null | undefined>;
  circled: boolean | null;
  /** Where the values come from, for one clip. */
  from?: (field: keyof Identity) => 'person' | 'sidecar' | 'file' | null;
}

/** Identity, edited in place: a field that is left is taken in, for all clips selected. */
export function IdentityForm({ production, clips, values, circled, from }: IdentityFormProps) {
  const say = useSayIdentity();
  const change = useMutation({
    mutationFn: (fields: IdentityChange) =>
      say(ask(identityRows.say, { production, body: { clips: [...clips], change: fields } })),
    onError: (error) => toast.error(problemOf(error).what),
  });
  return (
    <form
      aria-label="Identity"
      className="grid grid-cols-2 gap-x-3 gap-y-2"
      onSubmit={(event) => event.preventDefault()}
    >
      {identityFields.map((field, index) => (
        <Line
          key={`${field} ${clips.map((clip) => clip.id).join()} ${values[field] ?? ''}`}
          field={field}
          value={values[field]}
          first={index === 0}
          origin={from?.(field) ?? null}
          onSay={(text) => change.mutate({ [field]: text === '' ? null : text })}
        />
      ))}
      <label className="col-start-2 row-start-3 flex items-center gap-2">
        <input
          type="checkbox"
          checked={circled ?? false}
          ref={(box) => {
            if (box) box.indeterminate = circled === null;
          }}
          onChange={(event) => change.mutate({ circled: event.target.checked })}
          className="size-4 accent-teal"
        />
        Circled{circled === null && <span className="text-faint">mixed</span>}
      </label>
    </form>
  );
}

function Line({
  field,
  value,
  first,
  origin,
  onSay,
}: {
  field: IdentityField;
  value: string | null | undefined;
  first: boolean;
  origin: 'person' | 'sidecar' | 'file' | null;
  onSay: (text: string) => void;
}) {
  const mixed = value === undefined;
  const [text, setText] = useState(value ?? '');
  const take = (): void => {
    const said = text.trim();
    if (said !== (value ?? '') && !(mixed && said === '')) onSay(said);
  };
  return (
    <label className={field === 'note' ? 'col-span-2' : ''}>
      <span className="flex justify-between text-dim">
        {labels[field]}
        {origin && origin !== 'person' && value && <span className="text-[11px] text-faint">from {origin}</span>}
      </span>
      <input
        className={inputLook}
        value={text}
        placeholder={mixed ? 'mixed' : ''}
        maxLength={identityLimits[field]}
        data-first-field={first ? '' : undefined}
        onChange={(event) => setText(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') {
            setText(value ?? '');
            event.currentTarget.blur();
          }
          event.stopPropagation();
        }}
      />
    </label>
  );
}
