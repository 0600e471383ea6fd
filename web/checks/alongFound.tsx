import type { MeasuringNow, OutputAnswer } from '@relay/contract/checks';
import { checkRows } from '@relay/contract/routes/checks';
import type { Along, SoundAlong, WorstFrame } from '@relay/core/measure/along';
import { formatRate } from '@relay/core/time/rate';
import { frameLabel } from '@relay/core/time/frameLabel';
import { toNumber } from '@relay/core/time/rational';
import { lazy, Suspense, useMemo, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { addressOf } from '../api/client.ts';
import { saySpan, sayBytes } from '../ui/format.ts';
import { colourLines, flowLines, likenessLines, soundLines } from './alongLines.ts';

const TimePlot = lazy(() => import('./timePlot.tsx').then((m) => ({ default: m.TimePlot })));

const sayPsnr = (psnr: number | null): string => (psnr === null ? 'equal' : `${psnr.toFixed(1)} dB`);

interface FoundProps {
  production: string;
  output: OutputAnswer;
  measuring: MeasuringNow;
  along: Along;
}

/** What was found: in figures, as pictures of the worst frames, and drawn along time. */
export function Found({ production, output, measuring, along }: FoundProps) {
  const [track, setTrack] = useState<number | null>(null);
  const seconds = along.frames / toNumber(along.rate);
  // Somebody is heard first.
  const heard = along.sound[track ?? along.sound.findIndex((one) => !isSilent(one))] ?? along.sound[0];
  const drawn = useMemo(
    () => ({
      likeness: likenessLines(along),
      colours: colourLines(along),
      peak: heard ? soundLines(heard, 'peak') : [],
      loudness: heard ? soundLines(heard, 'loudness') : [],
      flow: flowLines(along),
    }),
    [along, heard],
  );
  const pictured = along.ssim.length > 0;
  return (
    <>
      <Figures output={output} measuring={measuring} along={along} />
      {pictured && <Worst production={production} output={output} worst={measuring.worst} />}
      <Suspense fallback={<div className="h-[150px]" />}>
        {pictured && (
          <Plot
            title="Likeness"
            says="PSNR at the left, SSIM broken, at the right; the lowest of what lies on one spot"
          >
            <TimePlot
              label="PSNR and SSIM along the output"
              lines={drawn.likeness}
              unit="dB"
              rightUnit="SSIM"
              seconds={seconds}
            />
          </Plot>
        )}
        {along.seen && along.seen.length > 0 && (
          <Plot
            title="Colour by the chain"
            says="ΔE ITP: 1 is about the least that is seen. The broken line: a hundredth of the picture is above it"
          >
            <TimePlot
              label="Difference of colour along the output"
              lines={drawn.colours}
              unit="ΔE ITP"
              seconds={seconds}
            />
          </Plot>
        )}
        {heard && (
          <Plot
            title="Sound"
            says="The output's line is full, the original's by the same mix is broken"
            choice={
              along.sound.length > 1 && (
                <select
                  aria-label="Track"
                  value={heard.track}
                  onChange={({ target }) => setTrack(Number(target.value))}
                  className="rounded border border-line bg-sheet px-1 py-0.5"
                >
                  {along.sound.map((one) => (
                    <option key={one.track} value={one.track}>
                      Track {one.track + 1}
                      {isSilent(one) ? ', silent' : ''}
                    </option>
                  ))}
                </select>
              )
            }
          >
            {isSilent(heard) ? (
              <p className="text-dim">Silent, and so is what it was made of.</p>
            ) : (
              <>
                <TimePlot
                  label="Level along the output and its original"
                  lines={drawn.peak}
                  unit="dBFS"
                  seconds={seconds}
                />
                <TimePlot
                  label="Loudness along the output and its original"
                  lines={drawn.loudness}
                  unit="LUFS"
                  seconds={seconds}
                />
              </>
            )}
          </Plot>
        )}
        {drawn.flow.length > 0 && (
          <Plot title="Data rate" says="Each second of the pictures, the original's broken">
            <TimePlot
              label="Data rate along the output and its original"
              lines={drawn.flow}
              unit="Mb/s"
              log
              seconds={seconds}
            />
          </Plot>
        )}
      </Suspense>
      <footer className="text-faint">
        Measured {new Date(measuring.at).toLocaleString('en-GB')} for {measuring.who}: PSNR, SSIM, level and loudness
        are FFmpeg's own; the original was brought through every step of the plan first.
      </footer>
    </>
  );
}

/** Nothing is to be heard of it, nor of what it was made of. */
function isSilent({ output, original }: SoundAlong): boolean {
  return [...output.peak, ...original.peak].every((peak) => peak === null);
}

function Figures({ output, measuring, along }: Omit<FoundProps, 'production'>) {
  const [worst] = measuring.worst;
  const seen = along.seen && along.seen.length > 0 ? along.seen : null;
  const mean = seen && seen.reduce((sum, one) => sum + one.mean, 0) / seen.length;
  const meanSsim = along.ssim.reduce((sum, one) => sum + one, 0) / Math.max(1, along.ssim.length);
  const facts: [string, string][] = [
    [
      'Measured',
      along.ssim.length > 0
        ? `${along.ssim.length} of ${along.frames} frames at ${formatRate(along.rate)}`
        : 'sound alone',
    ],
    ['Length', saySpan(along.frames / toNumber(along.rate))],
    ...(along.ssim.length > 0
      ? ([
          ['PSNR', `${sayPsnr(measuring.meanPsnr)}${worst ? `, worst ${sayPsnr(worst.psnr)}` : ''}`],
          ['SSIM', `${meanSsim.toFixed(4)}${worst ? `, worst ${worst.ssim.toFixed(4)}` : ''}`],
        ] as [string, string][])
      : []),
    ...(mean === null ? [] : ([['ΔE ITP', `${mean.toFixed(2)} over ${seen?.length} frames`]] as [string, string][])),
    ['Size', `${sayBytes(output.original.sizeBytes)} → ${sayBytes(output.sizeBytes)}`],
  ];
  return (
    <>
      <dl className="grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-3">
        {facts.map(([name, value]) => (
          <div key={name}>
            <dt className="text-dim">{name}</dt>
            <dd className="font-mono">{value}</dd>
          </div>
        ))}
      </dl>
      {along.missing > 0 && (
        <p role="status">
          {along.missing} frames that should be there had no counterpart: the output or its original ends early.
        </p>
      )}
    </>
  );
}

function Worst({
  production,
  output,
  worst,
}: {
  production: string;
  output: OutputAnswer;
  worst: readonly WorstFrame[];
}) {
  return (
    <section aria-label="Worst frames" className="flex flex-col gap-2">
      <h2 className="font-semibold">
        Worst frames{' '}
        <span className="font-normal text-dim">original, then output; none within half a second of another</span>
      </h2>
      <ul className="grid gap-4 sm:grid-cols-2">
        {worst.map(({ frame, psnr, ssim }) => (
          <li key={frame} className="break-inside-avoid">
            <Link to={`/p/${production}/checks/${output.id}?frame=${frame}`} className="flex flex-col gap-1">
              <span className="grid grid-cols-2 gap-px overflow-hidden rounded bg-surround">
                {(['original', 'output'] as const).map((side) => (
                  <img
                    key={side}
                    alt={`${side} at ${frameLabel(frame, output.rate, output.start)}`}
                    src={addressOf(checkRows.picture, { output: output.id, query: { side, frame } })}
                    className="aspect-video w-full object-contain"
                  />
                ))}
              </span>
              <span className="flex justify-between gap-2 font-mono text-[12px]">
                <span>{frameLabel(frame, output.rate, output.start)}</span>
                <span>
                  {sayPsnr(psnr)} · {ssim.toFixed(4)}
                </span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Plot({
  title,
  says,
  choice,
  children,
}: {
  title: string;
  says: string;
  choice?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section aria-label={title} className="break-inside-avoid border-t border-line pt-3">
      <h2 className="flex flex-wrap items-baseline gap-x-3 font-semibold">
        {title} <span className="font-normal text-dim">{says}</span>
        {choice && <span className="ml-auto text-[13px] font-normal print:hidden">{choice}</span>}
      </h2>
      {children}
    </section>
  );
}
