import { codecRow, hasPicture } from '@relay/core/recipe/codecs';
import type { Deliverable, LongCodec, VideoCodec } from '@relay/core/recipe/recipe';
import { wrappers } from '@relay/core/recipe/wrappers';
import type { RateWish } from '@relay/core/size/target';
import { Choice, selectLook } from '../corrections/row.tsx';
import { NumberField } from '../ui/numberField.tsx';
import { without } from '../ui/without.ts';
import { codecByKey, codecGroups, codecKey, withCodec, withWrapper, wrappersFor } from './codecChoices.ts';

interface FormProps {
  deliverable: Deliverable;
  onChange: (deliverable: Deliverable) => void;
}

/** What a wrapper makes of sound tracks, where it does not keep them. */
const tracksSaid = {
  kept: '',
  'single channels': ' Each channel of sound becomes a file.',
  one: ' All channels of sound become one track, in order.',
} as const;

/** Codec, what can be asked of it, wrapper and sound; what cannot be together is not offered. */
export function CodecForm({ deliverable: d, onChange }: FormProps) {
  const row = codecRow(d.codec);
  const of = d.name.toLowerCase();
  const say = (codec: VideoCodec): void => onChange(withCodec(d, codec));
  return (
    <div className="flex flex-col gap-2">
      <Line name="Codec">
        <select
          aria-label={`Codec of the ${of}`}
          value={codecKey(d.codec)}
          onChange={(event) => say(codecByKey(event.target.value))}
          className={`${selectLook} h-7`}
        >
          {codecGroups.map(({ group, codecs }) => (
            <optgroup key={group} label={group}>
              {codecs.map(({ key, name }) => (
                <option key={key} value={key}>
                  {name}
                </option>
              ))}
            </optgroup>
          ))}
        </select>
        <p className="text-[12px] text-dim">
          {hasPicture(d) && (
            <>
              <span className="font-mono text-ink">
                {row.chroma === 'rgb' ? 'RGB' : row.chroma} {row.bitDepth} bit
              </span>
              , {row.intra ? 'every picture whole' : 'groups of pictures'}:{' '}
            </>
          )}
          {row.good}.
        </p>
      </Line>
      {(d.codec.id === 'h264' || d.codec.id === 'hevc') && <LongForm codec={d.codec} of={of} onChange={say} />}
      {d.codec.id === 'prores' && d.codec.profile.startsWith('4444') && (
        <Tick
          label="Alpha kept where there is one"
          on={d.codec.alpha === 'kept'}
          onChange={(on) => {
            const codec = d.codec as Extract<VideoCodec, { id: 'prores' }>;
            say(on ? { ...codec, alpha: 'kept' } : without(codec, 'alpha'));
          }}
        />
      )}
      {d.codec.id === 'av1' && (
        <Line name="Quality">
          <NumberInput
            label={`Quality of the ${of}`}
            value={d.codec.quality}
            whole
            least={1}
            most={63}
            onChange={(quality) => say({ id: 'av1', quality })}
          />
        </Line>
      )}
      {d.codec.id === 'mjpeg' && (
        <Line name="Quality">
          <NumberInput
            label={`Quality of the ${of}`}
            value={d.codec.quality}
            whole
            least={2}
            most={31}
            onChange={(quality) => say({ id: 'mjpeg', quality })}
          />
        </Line>
      )}
      {d.codec.id === 'vc5' && (
        <Line name="Quality">
          <Choice
            label={`Quality of the ${of}`}
            value={d.codec.quality}
            options={[
              ['film', 'film'],
              ['high', 'high'],
              ['medium', 'medium'],
              ['low', 'low'],
            ]}
            onChange={(quality) => say({ id: 'vc5', quality })}
          />
        </Line>
      )}
      {d.codec.id === 'ffv1' && (
        <Line name="Samples">
          <Choice
            label={`Samples of the ${of}`}
            value={d.codec.sampling}
            options={[
              ['4:2:2 10', '4:2:2 10 bit'],
              ['4:4:4 10', '4:4:4 10 bit'],
              ['4:2:2 8', '4:2:2 8 bit'],
              ['4:2:0 8', '4:2:0 8 bit'],
            ]}
            onChange={(sampling) => say({ id: 'ffv1', sampling })}
          />
        </Line>
      )}
      <Line name="Wrapper">
        <Choice
          label={`Wrapper of the ${of}`}
          value={d.wrapper}
          options={wrappersFor(d.codec).map((id) => [id, wrappers[id].name])}
          onChange={(wrapper) => onChange(withWrapper(d, wrapper))}
        />
        <p className="text-[12px] text-dim">
          {wrappers[d.wrapper].good}.{tracksSaid[wrappers[d.wrapper].tracks]}
        </p>
      </Line>
      <Line name="Sound">
        <Choice
          label={`Sound of the ${of}`}
          value={d.sound.codec === 'aac' ? `aac ${d.sound.bitsPerSecond ?? 96_000}` : `pcm ${d.sound.bitDepth ?? ''}`}
          options={[
            ...(wrappers[d.wrapper].sound.includes('pcm')
              ? ([
                  ['pcm ', "PCM, depth as the original's"],
                  ['pcm 16', 'PCM 16 bit'],
                  ['pcm 24', 'PCM 24 bit'],
                ] as const)
              : []),
            ...(wrappers[d.wrapper].sound.includes('aac')
              ? ([
                  ['aac 64000', 'AAC, 64 kb/s a channel'],
                  ['aac 96000', 'AAC, 96 kb/s a channel'],
                  ['aac 160000', 'AAC, 160 kb/s a channel'],
                ] as const)
              : []),
          ]}
          onChange={(value) => {
            const [codec, number] = value.split(' ');
            onChange({
              ...d,
              sound:
                codec === 'aac'
                  ? { codec: 'aac', sampleRate: 48_000, bitsPerSecond: Number(number) }
                  : { codec: 'pcm', sampleRate: 48_000, ...(number ? { bitDepth: Number(number) as 16 | 24 } : {}) },
            });
          }}
        />
      </Line>
    </div>
  );
}

interface NumberInputProps {
  label: string;
  unit?: string;
  value: number;
  least: number;
  most: number;
  whole?: boolean;
  onChange: (value: number) => void;
}

const megabytes = 1_000_000;

function LongForm({ codec, of, onChange }: { codec: LongCodec; of: string; onChange: (codec: LongCodec) => void }) {
  const rate = codec.rate;
  const kind = rate ? (rate.kind === 'average' ? `average ${rate.passes}` : rate.kind) : 'quality';
  const begin = (wanted: string): void => {
    const wish: RateWish | null =
      wanted === 'size'
        ? { kind: 'size', bytes: 25 * megabytes }
        : wanted === 'share'
          ? { kind: 'share', percent: 20 }
          : wanted.startsWith('average')
            ? {
                kind: 'average',
                bitsPerSecond: rate?.kind === 'average' ? rate.bitsPerSecond : 8_000_000,
                passes: wanted.endsWith('2') ? 2 : 1,
              }
            : null;
    onChange(wish ? { ...codec, rate: wish } : without(codec, 'rate'));
  };
  const samples = `${codec.chroma ?? '4:2:0'} ${codec.bitDepth ?? 8}`;
  return (
    <>
      <Line name="Asked for">
        <div className="grid grid-cols-[1fr_6.5rem] gap-1.5">
          <Choice
            label={`What is asked of the ${of}`}
            value={kind}
            onChange={begin}
            options={[
              ['quality', 'one quality'],
              ['average 1', 'a rate, one pass'],
              ['average 2', 'a rate, two passes'],
              ['size', 'a size, each file'],
              ['share', "a share of the original's"],
            ]}
          />
          {!rate && (
            <NumberInput
              label={`Quality of the ${of}`}
              value={codec.quality}
              whole
              least={0}
              most={51}
              onChange={(quality) => onChange({ ...codec, quality })}
            />
          )}
          {rate?.kind === 'average' && (
            <NumberInput
              label={`Rate of the ${of}`}
              unit="Mb/s"
              value={rate.bitsPerSecond / 1e6}
              least={0.05}
              most={2000}
              onChange={(value) => onChange({ ...codec, rate: { ...rate, bitsPerSecond: Math.round(value * 1e6) } })}
            />
          )}
          {rate?.kind === 'size' && (
            <NumberInput
              label={`Size of the ${of}`}
              unit="MB"
              value={rate.bytes / megabytes}
              least={0.05}
              most={1e6}
              onChange={(value) => onChange({ ...codec, rate: { kind: 'size', bytes: Math.round(value * megabytes) } })}
            />
          )}
          {rate?.kind === 'share' && (
            <NumberInput
              label={`Share of the ${of}`}
              unit="%"
              value={rate.percent}
              least={0.1}
              most={400}
              onChange={(percent) => onChange({ ...codec, rate: { kind: 'share', percent } })}
            />
          )}
        </div>
      </Line>
      <Line name="Samples">
        <Choice
          label={`Samples of the ${of}`}
          value={samples}
          options={[
            ['4:2:0 8', '4:2:0 8 bit'],
            ['4:2:0 10', '4:2:0 10 bit'],
            ['4:2:2 10', '4:2:2 10 bit'],
          ]}
          onChange={(value) => {
            const [chroma, depth] = value.split(' ');
            onChange({ ...codec, chroma: chroma as '4:2:0' | '4:2:2', bitDepth: Number(depth) as 8 | 10 });
          }}
        />
      </Line>
      <Line name="Effort">
        <Choice
          label={`Effort of the ${of}`}
          value={codec.effort ?? 'quick'}
          options={[
            ['quick', 'quick'],
            ['balanced', 'balanced, slower'],
            ['thorough', 'thorough, slowest'],
          ]}
          onChange={(effort) => onChange({ ...codec, effort })}
        />
      </Line>
      <div className="flex flex-wrap gap-x-4">
        <Tick
          label="Every picture whole"
          on={codec.intra === true}
          onChange={(on) => onChange(on ? { ...codec, intra: true } : without(codec, 'intra'))}
        />
        <Tick
          label="Grain kept"
          on={codec.grain === 'kept'}
          onChange={(on) => onChange(on ? { ...codec, grain: 'kept' } : without(codec, 'grain'))}
        />
      </div>
    </>
  );
}

export function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div className="grid grid-cols-[5.5rem_1fr] items-baseline gap-2">
      <span className="text-dim">{name}</span>
      <div className="flex min-w-0 flex-col gap-1">{children}</div>
    </div>
  );
}

export function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
      <input type="checkbox" checked={on} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

/** A number of a codec's: never nothing. */
function NumberInput({ onChange, ...rest }: NumberInputProps) {
  return (
    <NumberField
      {...rest}
      onChange={(value) => {
        if (value !== null) onChange(value);
      }}
    />
  );
}
