import { clipRows } from '@relay/contract/routes/clips';
import { checkRows } from '@relay/contract/routes/checks';
import { addressOf, ask } from '../api/client.ts';
import type { OutputAnswer } from '@relay/contract/checks';
import { formatRaster } from '@relay/core/shape/raster';
import { formatRate } from '@relay/core/time/rate';
import { toNumber } from '@relay/core/time/rational';
import { framesToTimecode, timecodeToFrames } from '@relay/core/time/timecode';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { outputQuery } from '../api/queries.ts';
import { PictureChoice } from '../ui/pictureChoice.tsx';
import { useKeys } from '../ui/keys.ts';
import { blocks, Bytes, Key, Loading, ProblemNote, problemOf } from '../ui/pieces.tsx';
import { ProofTable } from '../ui/proof.tsx';
import { Remove } from '../ui/remove.tsx';
import { StateMark } from '../ui/stateMark.tsx';
import { docketWidth } from '../ui/docketWidth.ts';
import { LookedAt } from './look.tsx';

/** How large the pictures are shown: fitted to the page, or in percent of the original's samples. */
const zooms = ['fit', 100, 200, 400] as const;
type Zoom = (typeof zooms)[number];

/** The label of a frame, counted from the output's start timecode; its number where there is none. */
function labelOf(output: OutputAnswer, frame: number): string {
  const start = output.start ? timecodeToFrames(output.start.start, output.rate) : null;
  const label = start?.ok ? framesToTimecode(start.value + frame, output.rate, output.start?.dropFrame) : null;
  return label?.ok ? label.value.text : `frame ${frame + 1}`;
}

/** A finished output beside its original, at the same frame. */
export function ComparePage() {
  const { production = '', output: id = '' } = useParams();
  const go = useNavigate();
  const { data: output, error, refetch } = useQuery(outputQuery(id));
  const [frame, setFrame] = useState(0);
  const [zoom, setZoom] = useState<Zoom>('fit');
  const [pan, setPan] = useState({ x: 0.5, y: 0.5 });
  const last = Math.max(0, (output?.frames ?? 1) - 1);
  const to = (wanted: number): void => setFrame(Math.min(last, Math.max(0, wanted)));
  useKeys({
    ArrowRight: (event) => to(frame + (event.shiftKey ? 10 : 1)),
    ArrowLeft: (event) => to(frame - (event.shiftKey ? 10 : 1)),
    Home: () => to(0),
    End: () => to(last),
    1: () => setZoom('fit'),
    2: () => setZoom(100),
    3: () => setZoom(200),
    4: () => setZoom(400),
  });
  if (error && blocks(error, output)) return <ProblemNote problem={problemOf(error)} again={() => void refetch()} />;
  if (!output)
    return (
      <div className="flex-1">
        <Loading what="The output" />
      </div>
    );
  const seconds = frame / toNumber(output.rate);
  const { video } = output.original;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col bg-surround text-surround-ink">
        <div className="grid min-h-0 flex-1 grid-cols-2 gap-1 p-1">
          <Picture
            title="Original"
            note={video ? `${formatRaster(video.raster)} · ${video.codec} · ${video.bitDepth} bit` : ''}
            url={addressOf(clipRows.picture, { clip: output.clipId, query: { seconds: seconds.toFixed(6) } })}
            zoom={zoom}
            pan={pan}
            onPan={setPan}
            reference={output.raster}
          />
          {!output.pictured && (
            <p className="flex flex-col justify-center px-8 text-center">
              <span className="text-white">{output.deliverable} is sound alone</span>Its proof is at the right: length,
              level, sync and channels were held against the original's.
            </p>
          )}
          {output.pictured && (
            <Picture
              title={output.deliverable}
              note={`${formatRaster(output.raster)} · ${output.proof?.comparisons.find((c) => c.name === 'codec')?.found ?? ''}`}
              url={addressOf(checkRows.picture, { output: output.id, query: { seconds: seconds.toFixed(6) } })}
              zoom={zoom}
              pan={pan}
              onPan={setPan}
              reference={output.raster}
            />
          )}
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-1 px-5 py-3">
          <span className="w-40 font-mono text-lg text-white">{labelOf(output, frame)}</span>
          <input
            type="range"
            aria-label="Frame"
            aria-valuetext={labelOf(output, frame)}
            min={0}
            max={last}
            value={frame}
            onChange={(event) => to(Number(event.target.value))}
            className="min-w-24 flex-1 accent-surround-ink"
          />
          <span className="font-mono whitespace-nowrap">
            {frame + 1} of {output.frames}
          </span>
          <span className="flex items-center gap-1">
            <Key>←</Key>
            <Key>→</Key>
          </span>
          <PictureChoice
            label="Zoom"
            options={zooms}
            value={zoom}
            say={(one) => (one === 'fit' ? 'fit' : `${one} %`)}
            onChoose={setZoom}
            className="font-mono"
          />
        </div>
      </div>
      <aside
        aria-label="Docket"
        className={`flex ${docketWidth} shrink-0 flex-col gap-4 overflow-auto border-l border-line bg-raised/40 p-5`}
      >
        <div>
          <h1 className="flex items-center justify-between gap-2 text-[15px] font-semibold">
            <span className="break-all">{output.original.stem}</span>
            <span className="text-[13px] font-normal">
              <StateMark state={output.state} />
            </span>
          </h1>
          <p className="font-mono text-[11px] break-all text-faint">{output.path}</p>
        </div>
        <LookedAt
          key={output.id}
          production={production}
          output={output}
          frame={frame}
          labelOf={(one) => labelOf(output, one)}
          onFrame={to}
        />
        {output.problem && (
          <p>
            <span className="block">{output.problem.what}.</span>
            <span className="text-dim">{output.problem.remedy}.</span>
          </p>
        )}
        <p className="text-dim">{output.said.map((line) => `${line}.`).join(' ')}</p>
        <p className="flex justify-between">
          <span className="text-dim">Size</span>
          <span className="flex gap-2">
            <Bytes value={output.original.sizeBytes} />
            <span>→</span>
            <Bytes value={output.sizeBytes} />
          </span>
        </p>
        <p className="flex justify-between">
          <span className="text-dim">Rate</span>
          <span className="font-mono">
            {video ? formatRate(video.rate) : ''} → {formatRate(output.rate)}
          </span>
        </p>
        {output.proof && <ProofTable proof={output.proof} />}
        <Link className="underline underline-offset-4" to={`/p/${production}/runs/${output.runId}`}>
          To its run
        </Link>
        <Remove
          what={output.path}
          says="It is checked and handed off no more."
          remove={() => ask(checkRows.remove, { output: output.id })}
          onRemoved={() => void go(`/p/${production}/checks`)}
          className="self-start"
        />
      </aside>
    </>
  );
}

interface PictureProps {
  title: string;
  note: string;
  url: string;
  zoom: Zoom;
  pan: { x: number; y: number };
  onPan: (pan: { x: number; y: number }) => void;
  /** The output's raster; both pictures are shown at one size, so that the same place is under the same place. */
  reference: { width: number; height: number };
}

/** One of the two pictures; both zoom and pan together. The one before stays until the next has come. */
function Picture({ title, note, url, zoom, pan, onPan, reference }: PictureProps) {
  const [shown, setShown] = useState<string | null>(null);
  const [failed, setFailed] = useState(false);
  const grip = useRef<{ x: number; y: number; pan: { x: number; y: number } } | null>(null);
  useEffect(() => {
    const image = new Image();
    image.onload = () => {
      setShown(url);
      setFailed(false);
    };
    image.onerror = () => setFailed(true);
    image.src = url;
    return () => {
      image.onload = image.onerror = null;
    };
  }, [url]);
  // At 100 % one sample of a full-raster picture is one dot; a proxy is enlarged to lie on its original.
  const wide = Math.max(reference.width, 1920);
  const size =
    zoom === 'fit'
      ? null
      : { width: (wide * zoom) / 100, height: ((wide * reference.height) / reference.width) * (zoom / 100) };
  const move = (event: PointerEvent<HTMLDivElement>): void => {
    if (!grip.current || !size) return;
    const clamp = (value: number): number => Math.min(1, Math.max(0, value));
    onPan({
      x: clamp(grip.current.pan.x - (event.clientX - grip.current.x) / size.width),
      y: clamp(grip.current.pan.y - (event.clientY - grip.current.y) / size.height),
    });
  };
  return (
    <figure className="flex min-h-0 min-w-0 flex-col">
      <figcaption className="flex justify-between px-2 py-1.5">
        <span className="text-white">{title}</span>
        <span className="font-mono text-[11px]">{note}</span>
      </figcaption>
      <div
        className={`relative min-h-0 flex-1 overflow-hidden ${size ? 'cursor-grab touch-none' : ''}`}
        onPointerDown={(event) => {
          if (size) {
            grip.current = { x: event.clientX, y: event.clientY, pan };
            event.currentTarget.setPointerCapture(event.pointerId);
          }
        }}
        onPointerMove={move}
        onPointerUp={() => {
          grip.current = null;
        }}
      >
        {failed && (
          <p role="alert" className="p-4">
            There is no picture at this frame.
          </p>
        )}
        {shown &&
          !failed &&
          (size ? (
            <img
              src={shown}
              alt={`${title}, enlarged`}
              draggable={false}
              className="absolute top-1/2 left-1/2 max-w-none [image-rendering:pixelated]"
              style={{ ...size, transform: `translate(${-pan.x * size.width}px, ${-pan.y * size.height}px)` }}
            />
          ) : (
            <img src={shown} alt={title} draggable={false} className="absolute inset-0 size-full object-contain" />
          ))}
      </div>
    </figure>
  );
}
