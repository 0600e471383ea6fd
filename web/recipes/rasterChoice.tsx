import { padColours, type RasterWish } from '@relay/core/shape/intoRaster';
import { anchors } from '@relay/core/shape/window';
import { selectLook } from '../corrections/row.tsx';
import { NumberField } from '../ui/numberField.tsx';

const kinds: Readonly<Record<RasterWish['kind'], string>> = {
  source: "the original's, pixels square",
  share: "a share of the original's",
  fit: 'within a raster',
  pad: 'a raster, filled up around',
  fill: 'a raster, filled, the rest cut',
  cut: 'a raster cut out, not scaled',
};

/** What a wish of another kind begins with: the sizes that were there, else HD. */
function begun(kind: RasterWish['kind'], before: RasterWish): RasterWish {
  const { width, height } = 'width' in before ? before : { width: 1920, height: 1080 };
  switch (kind) {
    case 'source':
      return { kind };
    case 'share':
      return { kind, of: 2 };
    case 'fit':
    case 'pad':
    case 'fill':
    case 'cut':
      return { kind, width, height };
  }
}

/** The raster that a deliverable wants. */
export function RasterChoice({
  of,
  wish,
  onChange,
}: {
  of: string;
  wish: RasterWish;
  onChange: (wish: RasterWish) => void;
}) {
  const label = `raster of the ${of}`;
  const side = (name: 'width' | 'height'): React.ReactNode =>
    'width' in wish && (
      <NumberField
        label={`${name} of the ${label}`}
        value={wish[name]}
        whole
        least={16}
        most={16384}
        step={2}
        className="h-7"
        onChange={(samples) => {
          if (samples !== null) onChange({ ...wish, [name]: samples });
        }}
      />
    );
  return (
    <div className="flex flex-col gap-1.5">
      <select
        aria-label={`Kind of ${label}`}
        value={wish.kind}
        onChange={(event) => onChange(begun(event.target.value as RasterWish['kind'], wish))}
        className={`${selectLook} h-7`}
      >
        {Object.entries(kinds).map(([kind, words]) => (
          <option key={kind} value={kind}>
            {words}
          </option>
        ))}
      </select>
      {wish.kind === 'share' && (
        <select
          aria-label={`Share, ${label}`}
          value={wish.of}
          onChange={(event) => onChange({ ...wish, of: Number(event.target.value) as 2 | 3 | 4 })}
          className={`${selectLook} h-7`}
        >
          <option value={2}>a half each way</option>
          <option value={3}>a third each way</option>
          <option value={4}>a quarter each way</option>
        </select>
      )}
      {'width' in wish && (
        <div className="flex items-center gap-1.5">
          {side('width')}
          <span aria-hidden>×</span>
          {side('height')}
        </div>
      )}
      {(wish.kind === 'fit' || wish.kind === 'pad' || wish.kind === 'fill') && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={wish.enlarge ?? false}
            onChange={(event) => onChange({ ...wish, enlarge: event.target.checked })}
          />
          enlarged if smaller
        </label>
      )}
      {(wish.kind === 'pad' || wish.kind === 'fill' || wish.kind === 'cut') && (
        <select
          aria-label={`Where the picture lies, ${label}`}
          value={wish.anchor ?? 'centre'}
          onChange={(event) => onChange({ ...wish, anchor: event.target.value as (typeof anchors)[number] })}
          className={`${selectLook} h-7`}
        >
          {anchors.map((one) => (
            <option key={one} value={one}>
              {one}
            </option>
          ))}
        </select>
      )}
      {(wish.kind === 'pad' || wish.kind === 'cut') && (
        <select
          aria-label={`Around it, ${label}`}
          value={wish.colour ?? 'black'}
          onChange={(event) => onChange({ ...wish, colour: event.target.value as (typeof padColours)[number] })}
          className={`${selectLook} h-7`}
        >
          {padColours.map((one) => (
            <option key={one} value={one}>
              {one} around it
            </option>
          ))}
        </select>
      )}
    </div>
  );
}
