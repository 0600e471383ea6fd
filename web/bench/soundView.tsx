import type { BenchAnswer } from '@relay/contract/bench';
import type { ChannelMeasure } from '@relay/core/measure/measured';
import { silentBelow } from '@relay/core/measure/sound';
import { flatChannels, mostGain, soundMatrix, type MappedTrack, type SoundCorrection } from '@relay/core/sound/map';
import { useQuery } from '@tanstack/react-query';
import { lookQuery } from '../api/queries.ts';
import { NumberField } from '../ui/numberField.tsx';
import { Button } from '../ui/pieces.tsx';

/** A cell of the matrix that is silent, and one that is not. */
const [unused, used] = ['border-transparent text-surround-dim', 'border-surround-line text-white'];

const decibels = (share: number): string => (share > 0 ? (20 * Math.log10(share)).toFixed(1) : '−∞').replace('-', '−');

/** A row of a waveform, drawn by the root so that quiet rooms are seen. */
function Wave({ low, high }: { low: readonly number[]; high: readonly number[] }) {
  const bins = 160;
  const at = (values: readonly number[], bin: number, pick: (a: number, b: number) => number): number =>
    values
      .slice(
        Math.floor((bin * values.length) / bins),
        Math.max(Math.floor((bin * values.length) / bins) + 1, Math.floor(((bin + 1) * values.length) / bins)),
      )
      .reduce((a, b) => pick(a, b), 0);
  const path = Array.from(
    { length: bins },
    (_, bin) =>
      `M${bin} ${20 - Math.sqrt(at(high, bin, Math.max)) * 19}V${20.5 + Math.sqrt(-at(low, bin, Math.min)) * 19}`,
  ).join('');
  return (
    <svg viewBox={`0 0 ${bins} 40`} preserveAspectRatio="none" className="h-8 w-full bg-surround-well" aria-hidden>
      <path d={path} stroke="var(--surround-dim)" strokeWidth="1" vectorEffect="non-scaling-stroke" />
    </svg>
  );
}

function Meter({ measure }: { measure: ChannelMeasure | undefined }) {
  if (!measure) return <span className="text-surround-dim">not measured yet</span>;
  const width = (share: number): string =>
    `${Math.max(0, Math.min(100, ((20 * Math.log10(Math.max(1e-9, share)) + 60) / 60) * 100))}%`;
  const silent = measure.peak < silentBelow;
  return (
    <span className="block">
      <span className="relative block h-2 bg-surround-well">
        <span className="absolute inset-y-0 left-0 bg-surround-dim" style={{ width: width(measure.rms) }} />
        <span className="absolute inset-y-0 w-0.5 bg-white" style={{ left: width(measure.peak) }} />
      </span>
      <span className="font-mono text-[11px] whitespace-nowrap text-surround-ink">
        {silent
          ? 'silent'
          : `${measure.loudness === null || measure.loudness === undefined ? '−' : measure.loudness.toFixed(1).replace('-', '−')} LUFS · ${decibels(measure.truePeak ?? measure.peak)} dBTP`}
      </span>
    </span>
  );
}

/** Channels of the original down, of the output across: what is fed into what, with levels and waveforms. */
export function SoundView({
  bench,
  sound,
  onChange,
}: {
  bench: BenchAnswer;
  sound: SoundCorrection;
  onChange: (sound: SoundCorrection) => void;
}) {
  const { audio } = bench.description;
  const { data: look } = useQuery(lookQuery(bench.clip));
  const channels = flatChannels(audio);
  const made = soundMatrix(audio, sound);
  const tracks: MappedTrack[] =
    made.ok && made.value ? made.value : channels.map((_, channel) => ({ channels: [[{ channel, gain: 1 }]] }));
  const columns = tracks.flatMap((track, t) => track.channels.map((feeds, c) => ({ t, c, feeds, label: track.label })));
  const set = (t: number, c: number, channel: number, gain: number): void =>
    onChange({
      kind: 'matrix',
      tracks: tracks.map((track, ti) =>
        ti !== t
          ? track
          : {
              ...track,
              channels: track.channels.map((feeds, ci) =>
                ci !== c
                  ? feeds
                  : [
                      ...feeds.filter((feed) => feed.channel !== channel),
                      ...(gain === 0 ? [] : [{ channel, gain }]),
                    ].sort((a, b) => a.channel - b.channel),
              ),
            },
      ),
    });
  const edit = (next: MappedTrack[]): void =>
    onChange(next.length > 0 ? { kind: 'matrix', tracks: next } : { kind: 'keep' });
  if (channels.length === 0) return <div className="flex-1 p-6">No sound in the original.</div>;
  const loud = mostGain(tracks);
  return (
    <div className="min-h-0 flex-1 overflow-auto p-4">
      <table className="w-full border-collapse text-left">
        <caption className="mb-2 text-left text-surround-dim">
          Each row is a channel of the original, each column one of the output; a number is the gain.
        </caption>
        <thead>
          <tr className="align-bottom">
            <th scope="col" className="w-8 font-normal" />
            <th scope="col" className="w-1/4 font-normal text-surround-dim">
              Original
            </th>
            <th scope="col" className="w-40 px-3 font-normal text-surround-dim">
              Level
            </th>
            {columns.map(({ t, c, label }) => (
              <th key={`${t} ${c}`} scope="col" className="px-1 text-center font-mono font-normal">
                {t + 1}
                {(tracks[t] as MappedTrack).channels.length > 1 ? `.${c + 1}` : ''}
                {label && <span className="block truncate font-sans text-[11px]">{label}</span>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {channels.map(({ track, channel }, row) => (
            <tr key={row} className="border-t border-surround-line">
              <th scope="row" className="pr-2 text-right font-mono font-normal">
                {row + 1}
              </th>
              <td className="py-1">
                {look?.outlines[row] ? (
                  <Wave low={look.outlines[row].low} high={look.outlines[row].high} />
                ) : (
                  <span className="block h-8 bg-surround-well" />
                )}
              </td>
              <td className="px-3">
                <Meter measure={bench.measured?.sound.find((one) => one.track === track && one.channel === channel)} />
              </td>
              {columns.map(({ t, c, feeds }) => {
                const gain = feeds.find((feed) => feed.channel === row)?.gain ?? 0;
                return (
                  <td key={`${t} ${c}`} className="px-1 text-center">
                    <NumberField
                      label={`Channel ${row + 1} into ${t + 1}${(tracks[t] as MappedTrack).channels.length > 1 ? `.${c + 1}` : ''}`}
                      value={gain === 0 ? null : gain}
                      optional
                      least={-16}
                      most={16}
                      step={0.1}
                      placeholder="·"
                      className={`w-12! bg-surround-well px-1 text-center ${gain === 0 ? unused : used}`}
                      onDoubleClick={() => set(t, c, row, gain === 0 ? 1 : 0)}
                      onChange={(value) => set(t, c, row, value ?? 0)}
                    />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <Button onClick={() => edit([...tracks, { channels: [[]] }])}>Add a mono track</Button>
        <Button onClick={() => edit([...tracks, { channels: [[], []] }])}>Add a stereo track</Button>
        <Button disabled={tracks.length < 2} onClick={() => edit(tracks.slice(0, -1))}>
          Take the last away
        </Button>
        <span className="text-surround-dim">
          {loud > 1.0001 ? `Up to ${decibels(loud)} dB louder: full signals would clip` : 'No channel can clip'}
        </span>
      </div>
    </div>
  );
}
