import type { BenchAnswer } from '@relay/contract/bench';
import type { OutputPlan } from '@relay/core/recipe/legPlan';
import { mapCounts, shownBy } from '@relay/core/time/frameMap';
import { formatRate } from '@relay/core/time/rate';
import { toNumber } from '@relay/core/time/rational';
import { formatLength, framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { useEffect, useMemo, useRef } from 'react';
import { problemOf } from '../ui/pieces.tsx';
import { useStill } from './still.ts';

const shown = 8;

/** Two strips of frames, the original's above the output's, with the map between them. */
export function TimeView({
  bench,
  output,
  at,
  onAt,
}: {
  bench: BenchAnswer;
  output: OutputPlan | undefined;
  at: number;
  onAt: (frame: number) => void;
}) {
  const video = bench.description.video as NonNullable<BenchAnswer['description']['video']>;
  const plan = output?.video;
  const jitter = bench.measured?.jitter;
  // Where the rate varies, the exact map needs the time of every frame, which the run reads: even steps stand in for it
  // here.
  const map = useMemo(
    () =>
      plan?.map.kind === 'times'
        ? { kind: 'hold' as const, ratio: { num: plan.frames, den: video.frames } }
        : (plan?.map ?? { kind: 'every' as const }),
    [plan, video.frames],
  );
  if (!plan || !output) return <div className="flex-1" />;
  const first = Math.min(Math.max(0, plan.frames - shown), Math.max(0, at));
  const made = Array.from({ length: Math.min(shown, plan.frames) }, (_, index) => first + index);
  const links = made.map((n) => ({ n, ...shownBy(map, n, video.frames) }));
  const from = links[0]?.frame ?? 0;
  const to = Math.max(...links.map((link) => link.other?.frame ?? link.frame), from);
  // A stretch that drops frames shows those too, up to a number that can be seen.
  const originals = Array.from({ length: Math.min(12, to - from + 1) }, (_, index) => from + index);
  const label = (
    frame: number,
    start: { start: string; dropFrame: boolean } | null,
    rate: typeof plan.rate,
  ): string => {
    const count = start ? timecodeToFrames(start.start, rate) : null;
    const text = count?.ok ? framesToTimecode(count.value + frame, rate, start?.dropFrame) : null;
    return text?.ok ? text.value.text : `frame ${frame + 1}`;
  };
  const counts = plan.frames < 500_000 ? mapCounts(map, video.frames, plan.frames) : { dropped: 0, repeated: 0 };
  const cells = Math.max(originals.length, made.length);
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-auto p-4">
      <Strip
        title={`Original, ${video.rateConstant ? formatRate(video.rate) : 'varying'}`}
        length={formatLength(video.frames, video.rate)}
        clip={bench.clip}
        cells={cells}
        items={originals.map((frame) => ({
          key: frame,
          frame,
          label: label(frame, bench.description.timecode, video.rate),
          dim: !links.some((link) => link.frame === frame || link.other?.frame === frame),
        }))}
      />
      <svg
        viewBox={`0 0 ${cells} 1`}
        preserveAspectRatio="none"
        className="h-16 w-full shrink-0"
        role="img"
        aria-label="Which original frames each output frame shows"
      >
        {links.flatMap((link, index) =>
          [
            { frame: link.frame, weak: link.other !== undefined },
            ...(link.other ? [{ frame: link.other.frame, weak: true }] : []),
          ].map((one) => (
            <line
              key={`${link.n} ${one.frame}`}
              x1={one.frame - from + 0.5}
              y1={0}
              x2={index + 0.5}
              y2={1}
              stroke={one.weak ? '#9a9a9a' : '#e8e8e8'}
              strokeWidth="1.5"
              strokeDasharray={one.weak ? '4 3' : undefined}
              vectorEffect="non-scaling-stroke"
            />
          )),
        )}
      </svg>
      <Strip
        title={`${output.deliverable}, ${formatRate(plan.rate)}`}
        length={formatLength(plan.frames, plan.rate)}
        clip={bench.clip}
        cells={cells}
        items={links.map((link) => ({
          key: link.n,
          frame: link.frame,
          label: label(link.n, output.timecode, plan.rate),
          dim: false,
          note: link.other ? `${link.frame + 1} and ${link.other.frame + 1}` : undefined,
        }))}
      />
      <input
        type="range"
        aria-label="Output frame"
        aria-valuetext={label(first, output.timecode, plan.rate)}
        min={0}
        max={Math.max(0, plan.frames - shown)}
        value={first}
        onChange={(event) => onAt(Number(event.target.value))}
        className="accent-surround-ink"
      />
      <dl className="grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1 font-mono">
        <dt className="font-sans text-surround-dim">Frames</dt>
        <dd>
          {video.frames} → {plan.frames}
          {counts.dropped > 0 ? `, ${counts.dropped} dropped` : ''}
          {counts.repeated > 0 ? `, ${counts.repeated} repeated` : ''}
        </dd>
        <dt className="font-sans text-surround-dim">Duration</dt>
        <dd>
          {toNumber(video.duration).toFixed(3)} s → {(plan.frames / toNumber(plan.rate)).toFixed(3)} s
        </dd>
        <dt className="font-sans text-surround-dim">Drift at the end</dt>
        <dd>
          {plan.driftSeconds >= 0 ? '+' : '−'}
          {Math.abs(plan.driftSeconds).toFixed(6)} s
        </dd>
        <dt className="font-sans text-surround-dim">Starts at</dt>
        <dd>
          {bench.description.timecode?.start ?? 'none'} → {output.timecode?.start ?? 'none'}
        </dd>
        {!video.rateConstant && (
          <>
            <dt className="font-sans text-surround-dim">Varies</dt>
            <dd>
              {video.rateVaries
                ? `${formatRate(video.rateVaries.slowest)}–${formatRate(video.rateVaries.fastest)} from frame to frame`
                : 'yes'}
              {jitter
                ? `, ${jitter.typicalMs.toFixed(1)} ms off even steps, ${jitter.worstMs.toFixed(1)} ms at most`
                : ''}
              ; the strip above is drawn with even steps, the run reads each frame's time
            </dd>
          </>
        )}
      </dl>
    </div>
  );
}

interface Item {
  key: number;
  frame: number;
  label: string;
  dim: boolean;
  note?: string | undefined;
}

function Strip({
  title,
  length,
  clip,
  cells,
  items,
}: {
  title: string;
  length: string;
  clip: string;
  cells: number;
  items: readonly Item[];
}) {
  return (
    <section aria-label={title} className="shrink-0">
      <h2 className="mb-1 flex justify-between">
        <span>{title}</span>
        <span className="font-mono text-surround-dim">{length}</span>
      </h2>
      <ul className="grid gap-1" style={{ gridTemplateColumns: `repeat(${cells}, minmax(0, 1fr))` }}>
        {items.map((item) => (
          <li key={item.key} className={item.dim ? 'opacity-35' : ''}>
            <Thumb clip={clip} frame={item.frame} />
            <span className="block truncate font-mono text-[10px] text-surround-ink">{item.label}</span>
            {item.note && <span className="block truncate text-[10px] text-surround-dim">{item.note}</span>}
            {item.dim && <span className="block text-[10px]">dropped</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A frame, small; one that is still coming, or cannot be shown, looks like that and not like a black picture. */
function Thumb({ clip, frame }: { clip: string; frame: number }) {
  const { image, error } = useStill(clip, frame, 192);
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const target = canvas.current;
    if (!target || !image) return;
    target.width = image.width;
    target.height = image.height;
    target.getContext('2d')?.drawImage(image, 0, 0);
  }, [image]);
  const look = 'block aspect-video w-full';
  if (error)
    return (
      <span
        role="img"
        aria-label={`Frame ${frame + 1} cannot be shown`}
        title={problemOf(error).what}
        className={`${look} grid place-items-center border border-dashed border-surround-line text-[10px] text-surround-dim`}
      >
        not shown
      </span>
    );
  if (!image)
    return (
      <span
        role="img"
        aria-label={`Frame ${frame + 1} is still coming`}
        className={`${look} animate-pulse border border-dashed border-surround-line`}
      />
    );
  return (
    <canvas
      ref={canvas}
      width={192}
      height={108}
      role="img"
      aria-label={`Frame ${frame + 1}`}
      className={`${look} bg-surround-well object-contain`}
    />
  );
}
