import type { HeldCorrections } from '@relay/contract/corrections';
import type { ClipDescription } from '@relay/core/clip/description';
import { isInterlaced } from '@relay/core/clip/description';
import type { Repair } from '@relay/core/corrections/corrections';
import type { CorrectionField, FieldValues } from '@relay/core/corrections/fields';
import type { Measured } from '@relay/core/measure/measured';
import { keptOf, planStabilising } from '@relay/core/repair/stabilise';
import type { Crop } from '@relay/core/shape/window';
import { formatSqueeze, parsePixelAspect, parseSqueeze, squeezes } from '@relay/core/shape/pixelAspects';
import { formatRaster } from '@relay/core/shape/raster';
import { flatChannels } from '@relay/core/sound/map';
import type { Conform } from '@relay/core/time/conform';
import { formatRate, parseRate, standardRates } from '@relay/core/time/rate';
import { equal, formatFraction, rational, type Rational } from '@relay/core/time/rational';
import { useState } from 'react';
import { Button, inputLook } from '../ui/pieces.tsx';
import { Choice, Row } from './row.tsx';

/** What a form of corrections works on: one clip's, or what a selection shares. */
export interface FormProps {
  /** A clip of those corrected: what it has decides what is offered. */
  clip: ClipDescription;
  measured: Measured | null;
  values: Partial<FieldValues>;
  from: HeldCorrections['from'];
  mixed?: readonly CorrectionField[];
  draft: Partial<FieldValues>;
  onChange: (fields: Partial<FieldValues>) => void;
}

function useFieldState({ values, draft, from, mixed = [] }: FormProps) {
  const now = <F extends CorrectionField>(field: F): Partial<FieldValues>[F] =>
    draft[field] === undefined ? values[field] : draft[field];
  const row = (
    field: CorrectionField,
  ): { from: HeldCorrections['from'][CorrectionField]; mixed: boolean; changed: boolean } => ({
    from: from[field],
    mixed: draft[field] === undefined && mixed.includes(field),
    changed: draft[field] !== undefined,
  });
  return { now, row };
}

/** A fraction that is typed, taken when the field is left or Enter pressed. */
function Typed({
  label,
  text,
  parse,
  onValue,
  placeholder,
}: {
  label: string;
  text: string;
  parse: (text: string) => { ok: true; value: Rational } | { ok: false; problem: { what: string } };
  onValue: (value: Rational | null) => void;
  placeholder: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const take = (): void => {
    if (typed === null) return;
    if (typed.trim() === '') onValue(null);
    else {
      const read = parse(typed);
      if (!read.ok) {
        setWrong(read.problem.what);
        return;
      }
      onValue(read.value);
    }
    setTyped(null);
    setWrong(null);
  };
  return (
    <>
      <input
        aria-label={label}
        aria-invalid={wrong !== null}
        placeholder={placeholder}
        value={typed ?? text}
        onChange={(event) => {
          setTyped(event.target.value);
          setWrong(null);
        }}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === 'Enter') {
            event.preventDefault();
            take();
          }
        }}
        className={`${inputLook} font-mono`}
      />
      {wrong && (
        <p role="alert" className="text-rose">
          {wrong}
        </p>
      )}
    </>
  );
}

const sides = ['left', 'top', 'right', 'bottom'] as const;
const noCrop: Crop = { left: 0, top: 0, right: 0, bottom: 0 };

/** Squeeze, pixels, bars, turning. */
export function ShapeForm(props: FormProps) {
  const { clip, measured, onChange } = props;
  const { now, row } = useFieldState(props);
  const video = clip.video as NonNullable<ClipDescription['video']>;
  const squeeze = now('squeeze') ?? null;
  const aspect = now('pixelAspect') ?? null;
  const crop = now('crop') ?? null;
  const turn = now('turn') ?? { quarters: 0, across: false, down: false };
  const bars = measured?.picture?.bars ?? null;
  return (
    <>
      <Row name="Lens squeeze" {...row('squeeze')}>
        <div className="flex flex-wrap gap-1">
          <Button
            aria-pressed={squeeze === null && !row('squeeze').mixed}
            className={`h-7 px-2 ${squeeze === null && !row('squeeze').mixed ? 'bg-raised' : ''}`}
            onClick={() => onChange({ squeeze: null })}
          >
            none
          </Button>
          {squeezes.map((one) => {
            const on = squeeze !== null && equal(squeeze, one.squeeze);
            return (
              <Button
                key={one.written}
                aria-pressed={on}
                className={`h-7 px-2 font-mono ${on ? 'bg-raised' : ''}`}
                onClick={() => onChange({ squeeze: one.squeeze })}
              >
                {one.written}
              </Button>
            );
          })}
        </div>
        <Typed
          label="Another squeeze"
          placeholder="another, such as 1.79"
          text={squeeze && !squeezes.some((one) => equal(one.squeeze, squeeze)) ? formatSqueeze(squeeze) : ''}
          parse={parseSqueeze}
          onValue={(value) => onChange({ squeeze: value })}
        />
      </Row>
      <Row
        name={`Pixel aspect (the file says ${video.pixelAspectTagged ? formatFraction(video.pixelAspect, ':') : 'nothing'})`}
        {...row('pixelAspect')}
      >
        <Typed
          label="Pixel aspect"
          placeholder={formatFraction(video.pixelAspect, ':')}
          text={aspect ? formatFraction(aspect, ':') : ''}
          parse={parsePixelAspect}
          onValue={(value) => onChange({ pixelAspect: value })}
        />
      </Row>
      <Row name="Pixels become square" {...row('square')}>
        <Choice
          label="Pixels become square"
          mixed={row('square').mixed}
          value={now('square') ?? 'auto'}
          onChange={(value) => onChange({ square: value === 'auto' ? null : value })}
          options={[
            ['auto', 'losing no sample'],
            ['columns', 'by more or fewer columns'],
            ['rows', 'by fewer or more rows'],
            ['keep', 'not at all: kept as they are'],
          ]}
        />
      </Row>
      <Row name="Crop, off the picture as stored" {...row('crop')}>
        <div className="grid grid-cols-4 gap-1">
          {sides.map((side) => (
            <label key={side} className="flex flex-col text-[11px] text-faint">
              {side}
              <input
                type="number"
                min={0}
                max={16384}
                value={(crop ?? noCrop)[side]}
                onChange={(event) =>
                  onChange({
                    crop: { ...(crop ?? noCrop), [side]: Math.max(0, Math.floor(Number(event.target.value) || 0)) },
                  })
                }
                className={`${inputLook} px-1.5 font-mono`}
              />
            </label>
          ))}
        </div>
        <div className="flex flex-wrap gap-1.5">
          {bars && (
            <Button
              className="h-7 px-2"
              onClick={() =>
                onChange({ crop: { left: bars.left, top: bars.top, right: bars.right, bottom: bars.bottom } })
              }
            >
              Leave the bars out: {formatRaster(bars.crop)}, {Math.round(bars.confidence * 100)} % sure
            </Button>
          )}
          {crop && (
            <Button className="h-7 px-2" onClick={() => onChange({ crop: null })}>
              No crop
            </Button>
          )}
        </div>
      </Row>
      <Row
        name={`Turning${video.quarterTurns ? ` (the file turns it by ${video.quarterTurns * 90}° already)` : ''}`}
        {...row('turn')}
      >
        <div className="flex items-center gap-3">
          <Choice
            label="Turned by"
            mixed={row('turn').mixed}
            value={String(turn.quarters)}
            onChange={(value) => onChange({ turn: { ...turn, quarters: Number(value) } })}
            options={[
              ['0', 'not turned'],
              ['1', '90° clockwise'],
              ['2', '180°'],
              ['3', '90° the other way'],
            ]}
          />
          <label className="flex items-center gap-1.5 whitespace-nowrap">
            <input
              type="checkbox"
              checked={turn.across}
              onChange={(event) => onChange({ turn: { ...turn, across: event.target.checked } })}
            />
            mirror ↔
          </label>
          <label className="flex items-center gap-1.5 whitespace-nowrap">
            <input
              type="checkbox"
              checked={turn.down}
              onChange={(event) => onChange({ turn: { ...turn, down: event.target.checked } })}
            />
            ↕
          </label>
        </div>
      </Row>
    </>
  );
}

const kinds: readonly (readonly [Conform['kind'] | 'none', string])[] = [
  ['none', 'as it is, every frame once'],
  ['relabel', 'every frame kept, played at another rate'],
  ['resample', 'another rate, duration kept'],
  ['pulldown-out', '2:3 pulldown taken out'],
  ['pulldown-in', '2:3 pulldown put in'],
  ['constant', 'a varying rate made constant'],
];

/** Rate, timecode, scan. */
export function TimeForm(props: FormProps) {
  const { clip, measured, onChange } = props;
  const { now, row } = useFieldState(props);
  const video = clip.video as NonNullable<ClipDescription['video']>;
  const time = now('time') ?? null;
  const seen = measured?.picture?.fields ?? null;
  const scan = now('scan') ?? null;
  const say = (next: Conform | null): void => onChange({ time: next });
  const offered = kinds.filter(
    ([kind]) =>
      (video.rateConstant ? kind !== 'constant' : kind === 'none' || kind === 'constant') &&
      (kind !== 'pulldown-out' || equal(video.rate, rational(30000, 1001))) &&
      (kind !== 'pulldown-in' || equal(video.rate, rational(24000, 1001))),
  );
  const begin = (kind: string): void => {
    const rate = time && 'rate' in time ? time.rate : rational(24000, 1001);
    switch (kind) {
      case 'relabel': {
        say({ kind, rate, timecode: 'as labelled', sound: 'stretched' });
        return;
      }
      case 'resample': {
        say({ kind, rate, how: 'hold', timecode: 'as labelled' });
        return;
      }
      case 'pulldown-out':
        // Which field comes first is found with the pattern.
        onChange({
          time: { kind, phase: seen?.phase ?? 0, timecode: 'as labelled' },
          ...(seen?.topFieldFirst === undefined
            ? {}
            : { scan: seen.topFieldFirst ? 'top-field-first' : 'bottom-field-first' }),
        });
        return;
      case 'pulldown-in': {
        say({ kind, timecode: 'as labelled' });
        return;
      }
      case 'constant': {
        say({ kind, rate: rational(25) });
        return;
      }
      default: {
        say(null);
        return;
      }
    }
  };
  const interlaced = isInterlaced(scan ?? video.scan);
  return (
    <>
      <Row
        name={`Frame rate (${video.rateConstant ? formatRate(video.rate) : `varies, ${formatRate(video.rate)} on average`})`}
        {...row('time')}
      >
        <Choice
          label="What becomes of the frames"
          mixed={row('time').mixed}
          value={time?.kind ?? 'none'}
          onChange={begin}
          options={offered}
        />
        {time && 'rate' in time && (
          <div className="flex gap-1.5">
            <select
              aria-label="To"
              value={standardRates.some((one) => equal(one.rate, time.rate)) ? formatFraction(time.rate) : 'other'}
              onChange={(event) => {
                const read = parseRate(event.target.value);
                if (read.ok) say({ ...time, rate: read.value });
              }}
              className="h-8 min-w-0 flex-1 rounded-md border border-line bg-ground px-2 font-mono"
            >
              {standardRates.map((one) => (
                <option key={one.written} value={formatFraction(one.rate)}>
                  {one.written}
                </option>
              ))}
              {!standardRates.some((one) => equal(one.rate, time.rate)) && (
                <option value="other">{formatRate(time.rate)}</option>
              )}
            </select>
            <span className="w-28">
              <Typed
                label="Another rate"
                placeholder="other"
                text=""
                parse={parseRate}
                onValue={(value) => {
                  if (value) say({ ...time, rate: value });
                }}
              />
            </span>
          </div>
        )}
        {time?.kind === 'resample' && (
          <Choice
            label="Frames between"
            value={time.how}
            onChange={(how) => say({ ...time, how })}
            options={[
              ['hold', 'dropped or repeated'],
              ['blend', 'mixed of their neighbours'],
            ]}
          />
        )}
        {time?.kind === 'pulldown-out' && (
          <Choice
            label="The first frame in the pattern"
            value={String(time.phase)}
            onChange={(phase) => say({ ...time, phase: Number(phase) })}
            options={['AA', 'BB', 'BC', 'CD', 'DD'].map(
              (name, phase) =>
                [String(phase), `begins with ${name}${seen?.phase === phase ? ', as found' : ''}`] as const,
            )}
          />
        )}
        {time?.kind === 'relabel' && (
          <Choice
            label="Its sound"
            value={time.sound}
            onChange={(sound) => say({ ...time, sound })}
            options={[
              ['stretched', 'sound stretched with it, pitch moves'],
              ['pitch kept', 'sound stretched, pitch kept'],
              ['dropped', 'sound left out'],
            ]}
          />
        )}
        {time && 'timecode' in time && (
          <Choice
            label="Start timecode"
            value={time.timecode}
            onChange={(timecode) => say({ ...time, timecode })}
            options={[
              ['as labelled', 'timecode as labelled'],
              ['recounted', 'timecode recounted from midnight'],
            ]}
          />
        )}
      </Row>
      <Row name={`Scan (the file says ${video.scan.replaceAll('-', ' ')})`} {...row('scan')}>
        {seen && seen.seen !== 'still' && (
          <p className="text-[12px] text-dim">
            Seen: {seen.seen === 'pulldown' ? '2:3 pulldown' : seen.seen.replaceAll('-', ' ')},{' '}
            {Math.round(seen.confidence * 100)} % of {seen.judged} moving pictures
          </p>
        )}
        <Choice
          label="Scan"
          mixed={row('scan').mixed}
          value={scan ?? 'file'}
          onChange={(value) => onChange({ scan: value === 'file' ? null : value })}
          options={[
            ['file', 'as the file says'],
            ['progressive', 'whole pictures'],
            ['top-field-first', 'fields, top first'],
            ['bottom-field-first', 'fields, bottom first'],
          ]}
        />
      </Row>
      {interlaced && (
        <Row name="Where it is deinterlaced" {...row('deinterlace')}>
          <Choice
            label="Where it is deinterlaced"
            mixed={row('deinterlace').mixed}
            value={now('deinterlace') ?? 'single'}
            onChange={(value) => onChange({ deinterlace: value })}
            options={[
              ['single', 'one picture of two fields'],
              ['double', 'a picture of each field, twice the rate'],
            ]}
          />
        </Row>
      )}
    </>
  );
}

/** Which channels go where, in a word; the matrix is on the bench. */
export function SoundForm(props: FormProps) {
  const { clip, onChange } = props;
  const { now, row } = useFieldState(props);
  const sound = now('sound') ?? { kind: 'keep' as const };
  const channels = flatChannels(clip.audio);
  if (channels.length === 0) return <p className="text-dim">No sound in the original.</p>;
  const picked = sound.kind === 'pick' ? sound.channels : channels.map((_, index) => index);
  const toggle = (index: number): void => {
    const next = picked.includes(index)
      ? picked.filter((one) => one !== index)
      : [...picked, index].sort((a, b) => a - b);
    if (next.length > 0) onChange({ sound: { kind: 'pick', channels: next } });
  };
  const kind = sound.kind === 'fold' ? sound.to : sound.kind;
  return (
    <Row name={`Channels (${channels.length})`} {...row('sound')}>
      <Choice
        label="Channels"
        mixed={row('sound').mixed}
        value={kind}
        options={[
          ['keep', 'all kept in order'],
          ['pick', 'some kept, a track each'],
          ['stereo', 'folded to stereo'],
          ['mono', 'folded to mono'],
          ['matrix', "a matrix of one's own"],
        ]}
        onChange={(value) =>
          onChange({
            sound:
              value === 'pick'
                ? { kind: 'pick', channels: picked }
                : value === 'stereo' || value === 'mono'
                  ? { kind: 'fold', to: value }
                  : value === 'matrix'
                    ? { kind: 'matrix', tracks: channels.map((_, channel) => ({ channels: [[{ channel, gain: 1 }]] })) }
                    : null,
          })
        }
      />
      {sound.kind === 'pick' && (
        <div className="flex flex-wrap gap-1">
          {channels.map((_, index) => (
            <Button
              key={index}
              aria-pressed={picked.includes(index)}
              className={`h-7 px-2 font-mono ${picked.includes(index) ? 'bg-raised' : ''}`}
              onClick={() => toggle(index)}
            >
              {index + 1}
            </Button>
          ))}
        </div>
      )}
    </Row>
  );
}

/** Noise taken down, a shaken camera held. */
export function RepairForm(props: FormProps) {
  const { now, row } = useFieldState(props);
  const repair = now('repair') ?? null;
  // Nothing of both left is said as nothing.
  const say = (part: keyof Repair, value: string): void => {
    const next = { ...repair, [part]: Number(value) as 1 | 2 | 3 };
    if (value === '0' && part === 'denoise') delete next.denoise;
    if (value === '0' && part === 'stabilise') delete next.stabilise;
    props.onChange({ repair: Object.keys(next).length > 0 ? next : null });
  };
  const { video } = props.clip;
  const kept =
    repair?.stabilise && video
      ? keptOf(planStabilising(repair.stabilise, video.raster, video.rate), video.raster)
      : null;
  return (
    <>
      <Row name="Noise, averaged over time" {...row('repair')}>
        <Choice
          label="Noise, averaged over time"
          mixed={row('repair').mixed}
          value={String(repair?.denoise ?? 0)}
          onChange={(value) => say('denoise', value)}
          options={[
            ['0', 'left as it is'],
            ['1', 'lightly'],
            ['2', 'moderately'],
            ['3', 'strongly'],
          ]}
        />
      </Row>
      <Row name="A shaken camera" {...row('repair')}>
        <Choice
          label="A shaken camera"
          mixed={row('repair').mixed}
          value={String(repair?.stabilise ?? 0)}
          onChange={(value) => say('stabilise', value)}
          options={[
            ['0', 'left as it is'],
            ['1', 'held a little'],
            ['2', 'held firmly'],
            ['3', 'held as on a tripod'],
          ]}
        />
        {kept && (
          <p className="text-[12px] text-dim">
            The middle {formatRaster(kept)} is kept and enlarged. It takes a pass over the clip first
            {(video?.bitDepth ?? 8) > 8 ? ', and works in 8 bits' : ''}.
          </p>
        )}
      </Row>
    </>
  );
}
