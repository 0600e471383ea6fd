import type { Repair } from '@relay/core/corrections/corrections';
import { keptOf, planStabilising } from '@relay/core/repair/stabilise';
import { formatRaster } from '@relay/core/shape/raster';
import { Choice, Row } from './row.tsx';
import { type FormProps, useFieldState } from './formProps.ts';

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
