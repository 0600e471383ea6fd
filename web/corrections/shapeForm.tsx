import type { ClipDescription } from '@relay/core/clip/description';
import type { Crop } from '@relay/core/shape/window';
import { formatSqueeze, parsePixelAspect, parseSqueeze, squeezes } from '@relay/core/shape/pixelAspects';
import { formatRaster } from '@relay/core/shape/raster';
import { equal, formatFraction } from '@relay/core/time/rational';
import { NumberField } from '../ui/numberField.tsx';
import { Button } from '../ui/pieces.tsx';
import { Choice, Row } from './row.tsx';
import { type FormProps, useFieldState } from './formProps.ts';
import { Typed } from './typed.tsx';

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
              <NumberField
                label={`Crop, ${side}`}
                value={(crop ?? noCrop)[side]}
                whole
                least={0}
                most={16384}
                className="px-1.5"
                onChange={(samples) => onChange({ crop: { ...(crop ?? noCrop), [side]: samples ?? 0 } })}
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
