import type { ImageAnswer } from '@relay/contract/burn';
import type { BurnImage, BurnMark } from '@relay/core/burn/layout';
import { anchors, type Anchor } from '@relay/core/shape/window';
import { useMutation } from '@tanstack/react-query';
import { useRef } from 'react';
import { recipeRows } from '@relay/contract/routes/recipes';
import { ask } from '../api/client.ts';
import { Choice } from '../corrections/row.tsx';
import { NumberField } from '../ui/numberField.tsx';
import { Button, Field, toastProblem } from '../ui/pieces.tsx';
import { Pieces } from './lines.tsx';

const places = anchors.map((at) => [at, at] as const);

/** A mark that says whose copy it is. */
export function MarkForm({
  mark,
  onChange,
}: {
  mark: BurnMark | undefined;
  onChange: (mark: BurnMark | undefined) => void;
}) {
  const kind = mark?.as ?? 'none';
  const change = (next: Partial<BurnMark>): void => {
    if (mark) onChange({ ...mark, ...next });
  };
  const start = (as: 'none' | BurnMark['as']): void =>
    onChange(
      as === 'none'
        ? undefined
        : {
            at: 'top right',
            strength: 'clear',
            pieces: [
              { kind: 'text', text: 'Only for' },
              { kind: 'fact', fact: 'recipient' },
            ],
            recipients: [],
            ...mark,
            as,
          },
    );
  return (
    <section aria-label="Mark" className="flex flex-col gap-2.5 border-t border-line pt-3">
      <h2 className="font-semibold">Mark</h2>
      <Choice
        label="Mark"
        value={kind}
        options={[
          ['none', 'none'],
          ['across', 'across the picture'],
          ['corner', 'in a corner'],
        ]}
        onChange={start}
      />
      {mark && (
        <>
          {mark.as === 'across' ? (
            <Choice
              label="How strong"
              value={mark.strength}
              options={[
                ['faint', 'faint'],
                ['clear', 'clear'],
              ]}
              onChange={(strength) => change({ strength })}
            />
          ) : (
            <Choice label="Corner" value={mark.at} options={places} onChange={(at: Anchor) => change({ at })} />
          )}
          <Pieces
            label="Words of the mark"
            pieces={mark.pieces}
            onChange={(pieces) => {
              if (pieces.length > 0) change({ pieces });
            }}
          />
          <Field label="Recipients, one a line; each gets a copy of their own">
            <textarea
              rows={3}
              value={mark.recipients.join('\n')}
              onChange={(event) =>
                change({ recipients: event.target.value === '' ? [] : event.target.value.split('\n') })
              }
              className="w-full rounded-md border border-line bg-ground px-2.5 py-1.5"
            />
          </Field>
        </>
      )}
    </section>
  );
}

function keepImage(file: File): Promise<ImageAnswer> {
  return ask(recipeRows.addImage, { query: { name: file.name }, body: file });
}

/** A number of a range, typed. */
function Share({ label, value, onChange }: { label: string; value: number; onChange: (value: number) => void }) {
  return (
    <Field label={label}>
      <NumberField
        label={label}
        value={value * 100}
        digits={1}
        least={1}
        most={100}
        onChange={(percent) => {
          if (percent !== null) onChange(percent / 100);
        }}
      />
    </Field>
  );
}

/** A slate or a mark as a picture. */
export function ImageForm({
  image,
  onChange,
}: {
  image: BurnImage | undefined;
  onChange: (image: BurnImage | undefined) => void;
}) {
  const chooser = useRef<HTMLInputElement>(null);
  const keep = useMutation({
    mutationFn: keepImage,
    onError: toastProblem,
    onSuccess: ({ image: hash, width, height }) =>
      onChange({ at: 'top right', share: 0.15, opacity: 1, ...image, image: hash, width, height }),
  });
  const change = (next: Partial<BurnImage>): void => {
    if (image) onChange({ ...image, ...next });
  };
  return (
    <section aria-label="Image laid over" className="flex flex-col gap-2.5 border-t border-line pt-3">
      <h2 className="font-semibold">Image laid over</h2>
      <input
        ref={chooser}
        type="file"
        accept="image/png"
        aria-label="PNG file"
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) keep.mutate(file);
          event.target.value = '';
        }}
      />
      <div className="flex gap-2">
        <Button disabled={keep.isPending} onClick={() => chooser.current?.click()}>
          {image ? 'Choose another PNG' : 'Choose a PNG'}
        </Button>
        {image && <Button onClick={() => onChange(undefined)}>Take out</Button>}
      </div>
      {image && (
        <>
          <Choice
            label="Place of the image"
            value={image.at}
            options={places}
            onChange={(at: Anchor) => change({ at })}
          />
          <div className="grid grid-cols-2 gap-2">
            <Share label="Width, % of the raster" value={image.share} onChange={(share) => change({ share })} />
            <Share label="Opacity, %" value={image.opacity} onChange={(opacity) => change({ opacity })} />
          </div>
          <Field label="Only over the first frames (empty: throughout)">
            <NumberField
              label="First frames that the image lies over"
              value={image.frames ?? null}
              optional
              whole
              least={1}
              most={1_000_000}
              onChange={(frames) => {
                const next = { ...image };
                delete next.frames;
                onChange(frames === null ? next : { ...next, frames });
              }}
            />
          </Field>
        </>
      )}
    </section>
  );
}
