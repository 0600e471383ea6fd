import type { Deliverable, DeliverableColour, Role } from '@relay/core/recipe/recipe';
import { codecRow, hasPicture } from '@relay/core/recipe/codecs';
import { Link } from 'react-router';
import { Choice, selectLook } from '../corrections/row.tsx';
import { plural } from '../ui/format.ts';
import { Button, inputLook } from '../ui/pieces.tsx';
import type { FieldProblem } from '../ui/useKeptForm.ts';
import { without } from '../ui/without.ts';
import { StateSelect } from '../ui/stateSelect.tsx';
import { CodecForm, Line } from './codecForm.tsx';
import { PatternEditor } from './patternEditor.tsx';
import { PlaceChoice } from './placeChoice.tsx';
import { RasterChoice } from './rasterChoice.tsx';

const roles: readonly (readonly [Role, string])[] = [
  ['intermediate', 'intermediate, to finish from'],
  ['proxy', 'proxy, to cut with'],
  ['review', 'review, to look at'],
];
const colours: readonly (readonly [DeliverableColour['kind'], string])[] = [
  ['baked', 'the chain baked in'],
  ['beside', 'as shot, the LUT beside it'],
  ['brought', 'every camera brought to one log'],
  ['as-shot', 'as shot'],
];

/** What fields are called where something is wrong with them. */
const fieldNames: Readonly<Record<string, string>> = {
  name: 'Its name',
  folder: 'Its folder',
  place: 'Where it goes',
  path: 'Its path',
  codec: 'Its codec',
  wrapper: 'Its wrapper',
  raster: 'Its raster',
  burn: 'Its burn-in',
};

/** What is drawn over a deliverable, in a few words. */
function sayBurn({ burn }: Deliverable): string {
  if (!burn) return 'nothing';
  const who = burn.mark?.recipients.length ?? 0;
  return (
    [
      burn.lines.length > 0 ? plural(burn.lines.length, 'line') : null,
      burn.mark ? `a mark${who > 0 ? `, ${plural(who, 'copy', 'copies')}` : ''}` : null,
      burn.image ? 'an image' : null,
    ]
      .filter(Boolean)
      .join(', ') || 'nothing'
  );
}

interface CardProps {
  deliverable: Deliverable;
  /** What is wrong with it, as its form says. */
  problems: readonly FieldProblem[];
  /** The burn-in's page; null while the deliverable is not kept yet. */
  burnHref: string | null;
  /** Null for the only one. */
  onRemove: (() => void) | null;
  onChange: (deliverable: Deliverable) => void;
}

/** One deliverable of a recipe, all of it. */
export function DeliverableCard({ deliverable: d, problems, burnHref, onRemove, onChange }: CardProps) {
  const of = d.name.toLowerCase();
  const colour = d.colour ?? { kind: 'as-shot' as const };
  return (
    <li className="flex min-w-0 flex-col gap-2 rounded-lg border border-line p-4">
      <div className="flex gap-2">
        <input
          aria-label={`Name of the ${of}`}
          aria-invalid={problems.some(({ path }) => path[0] === 'name')}
          value={d.name}
          maxLength={80}
          onChange={(event) => onChange({ ...d, name: event.target.value })}
          className={`${inputLook} font-semibold`}
        />
        {onRemove && (
          <Button aria-label={`Take the ${of} out`} className="px-2.5" onClick={onRemove}>
            ×
          </Button>
        )}
      </div>
      {problems.map(({ path, message }) => (
        <p key={path.join()} role="alert" className="text-rose">
          {fieldNames[path[0] ?? ''] ?? 'This deliverable'}: {message}.
        </p>
      ))}
      <Line name="Role">
        <Choice
          label={`Role of the ${of}`}
          value={d.role}
          options={roles}
          onChange={(role) => onChange({ ...d, role })}
        />
      </Line>
      <CodecForm deliverable={d} onChange={onChange} />
      {hasPicture(d) && (
        <>
          <Line name="Raster">
            <RasterChoice of={of} wish={d.raster} onChange={(raster) => onChange({ ...d, raster })} />
          </Line>
          <Line name="Rate">
            <span>the original's, or as its clip is corrected</span>
          </Line>
          <Line name="Interlaced">
            <Choice
              label={`Interlaced pictures of the ${of}`}
              value={codecRow(d.codec).canHoldFields ? d.interlaced : 'deinterlace'}
              options={
                codecRow(d.codec).canHoldFields
                  ? [
                      ['keep', 'fields kept'],
                      ['deinterlace', 'deinterlaced'],
                    ]
                  : [['deinterlace', 'deinterlaced']]
              }
              onChange={(interlaced) => onChange({ ...d, interlaced })}
            />
          </Line>
          <Line name="Colour">
            <select
              aria-label={`Colour of the ${of}`}
              value={colour.kind}
              className={`${selectLook} h-7`}
              onChange={(event) => {
                const kind = event.target.value as DeliverableColour['kind'];
                onChange({ ...d, colour: kind === 'brought' ? { kind, state: 'acescct' } : { kind } });
              }}
            >
              {colours.map(([kind, words]) => (
                <option key={kind} value={kind}>
                  {words}
                </option>
              ))}
            </select>
            {colour.kind === 'brought' && (
              <StateSelect
                label="Brought to"
                value={colour.state}
                none="choose a state"
                onChange={(state) => {
                  if (state) onChange({ ...d, colour: { kind: 'brought', state } });
                }}
              />
            )}
          </Line>
          <Line name="Burn-in">
            <span>
              {sayBurn(d)}{' '}
              {burnHref ? (
                <Link to={burnHref} className="ml-2 underline underline-offset-2 hover:text-ink">
                  {d.burn ? 'Lay out' : 'Begin one'}
                </Link>
              ) : (
                <span className="text-faint">once it is kept</span>
              )}
            </span>
          </Line>
        </>
      )}
      <Line name="Goes to">
        <PlaceChoice
          of={of}
          place={d.place ?? null}
          onPlace={(place) => onChange(place ? { ...d, place } : without(d, 'place'))}
        />
      </Line>
      <Line name="Folder">
        <input
          aria-label={`Folder of the ${of}`}
          aria-invalid={problems.some(({ path }) => path[0] === 'folder')}
          value={d.folder}
          spellCheck={false}
          onChange={(event) => onChange({ ...d, folder: event.target.value })}
          className={`${inputLook} font-mono`}
        />
      </Line>
      <PatternEditor of={of} path={d.path} onChange={(path) => onChange(path ? { ...d, path } : without(d, 'path'))} />
    </li>
  );
}
