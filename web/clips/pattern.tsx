import { identityRows } from '@relay/contract/routes/identity';
import { identityFields, type IdentityField } from '@relay/core/identity/identity';
import { parsePattern } from '@relay/core/identity/pattern';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { ask } from '../api/client.ts';
import { DocketForm } from '../ui/docketForm.tsx';
import { plural } from '../ui/format.ts';
import { Button, Field, inputLook, problemOf, ProblemLine } from '../ui/pieces.tsx';
import { useSayIdentity } from './identity.tsx';
import { PreviewTable } from './preview.tsx';

/** Pieces that most patterns are built from, to be put in by a press. */
const pieces = [
  '[name 1-4]',
  '[name part 1]',
  '[name number 1]',
  '[folder]',
  '[roll]',
  '[day]',
  '[date]',
  '[hour]',
] as const;

/**
 * Identity taken from names, folders, timecode or dates, for all clips selected: shown for every clip before it is
 * taken in.
 */
export function PatternPanel({
  production,
  clips,
  onClose,
}: {
  production: string;
  clips: readonly string[];
  onClose: () => void;
}) {
  const [field, setField] = useState<IdentityField>('reel');
  const [pattern, setPattern] = useState('[name 1-4]');
  const say = useSayIdentity();
  const parsed = parsePattern(pattern);
  const preview = useQuery({
    queryKey: ['clips', production, 'pattern', field, pattern, clips],
    enabled: parsed.ok && pattern !== '',
    placeholderData: keepPreviousData,
    gcTime: 0,
    retry: false,
    queryFn: () => ask(identityRows.previewPattern, { production, body: { clips, field, pattern } }),
  });
  const changing = preview.data?.rows.filter((row) => row.changes).length ?? 0;
  const apply = async (): Promise<void> => {
    const versions = preview.data?.versions ?? {};
    const made = await say(
      ask(identityRows.sayPattern, {
        production,
        body: {
          clips: clips.flatMap((id) => (versions[id] === undefined ? [] : [{ id, version: versions[id] }])),
          field,
          pattern,
        },
      }),
    );
    if (made) onClose();
  };
  return (
    <DocketForm
      title={`Take identity from names, ${plural(clips.length, 'clip')}`}
      ready={changing > 0 && !preview.isFetching}
      onSend={() => void apply()}
      onClose={onClose}
    >
      <div className="grid grid-cols-[8rem_1fr] gap-2">
        <Field label="Sets">
          <select
            className={inputLook}
            value={field}
            onChange={(event) => setField(event.target.value as IdentityField)}
          >
            {identityFields.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </Field>
        <Field label="From">
          <input
            autoFocus
            className={`${inputLook} font-mono`}
            value={pattern}
            onChange={(event) => setPattern(event.target.value)}
            maxLength={200}
            aria-invalid={!parsed.ok}
          />
        </Field>
      </div>
      <div role="group" className="flex flex-wrap gap-1.5" aria-label="Pieces">
        {pieces.map((piece) => (
          <button
            key={piece}
            type="button"
            onClick={() => setPattern(pattern + piece)}
            className="rounded border border-line px-1.5 font-mono text-[11px] text-dim hover:text-ink"
          >
            {piece}
          </button>
        ))}
      </div>
      <p className="text-dim">
        Characters as <code>1-4</code> or <code>5-</code>, <code>part 2</code> between marks and blanks,{' '}
        <code>number 1</code> the first run of digits. Text outside brackets stays.
      </p>
      {!parsed.ok && <ProblemLine problem={parsed.problem} />}
      {preview.error && <ProblemLine problem={problemOf(preview.error)} />}
      {parsed.ok && preview.data && <PreviewTable preview={preview.data} />}
      <div className="flex gap-2">
        <Button main type="submit" disabled={!parsed.ok || changing === 0 || preview.isFetching}>
          Set on {plural(changing, 'clip')}
        </Button>
        <Button onClick={onClose}>Not now</Button>
      </div>
    </DocketForm>
  );
}
